import { useEffect, useRef, useState } from "react";
import { answered, api, Refused } from "../api/client";
import { useSignal } from "../api/signal";
import { plain, typed, type Quantity } from "../units/format";
import { readHere } from "../units/read";
import { Labelled } from "./Labelled";

interface Props {
  label: string;
  /** The unit a bare number is in. */
  bare: string;
  value: Quantity | null;
  /** Called with what was understood, or null when the field is empty. */
  onChange: (quantity: Quantity | null) => void;
  /** An error from elsewhere, such as the server's check of the whole form. */
  error?: string | undefined;
  hint?: string | undefined;
  className?: string;
  hideLabel?: boolean;
  /** The crop it is an amount of, so that bushels are read. */
  crop?: string | undefined;
}

const sameAmount = (a: Quantity | null, b: Quantity | null) =>
  a === b ||
  (a !== null && b !== null && a.unit === b.unit && Math.abs(a.value - b.value) < 1e-9 * Math.abs(a.value));

/**
 * Takes what people write ("15", "2.5 t/ac", "¼ in"), shows what was understood, and keeps what was
 * typed when it was not. The reading is the server's: one grammar for every form.
 */
export function QuantityField(props: Props) {
  const { label, bare, value, onChange, error, hint, className, hideLabel, crop = null } = props;
  const [text, setText] = useState(() => (value ? typed(value) : ""));
  const [given, setGiven] = useState(value);
  const [problem, setProblem] = useState<string>();
  const [understood, setUnderstood] = useState<string>();

  // A value set from outside (a slider, another view) replaces the text.
  if (!sameAmount(value, given)) {
    setGiven(value);
    setText(value ? typed(value) : "");
    setProblem(undefined);
    setUnderstood(undefined);
  }

  // What nobody has answered to yet: asked again when there is signal.
  const [pending, setPending] = useState<string | null>(null);
  const answers = useSignal();
  useEffect(() => {
    if (pending === null) return;
    let current = true;
    const timer = setTimeout(async () => {
      try {
        const read = await answered(api.POST("/api/read", { body: { text: pending, bare, crop } }));
        if (!current) return;
        setProblem(undefined);
        setUnderstood([plain(read.quantity), read.note].filter(Boolean).join(", "));
        setGiven(read.quantity);
        onChange(read.quantity);
      } catch (refused) {
        if (!current) return;
        if (refused instanceof Refused && refused.status === 0) {
          const here = readHere(pending, bare);
          setUnderstood(here ? plain(here) : undefined);
          setProblem(here ? undefined : "Offline: enter a number with a simple unit, e.g. 20 or 200 ft.");
          if (!here) return;
          setGiven(here);
          onChange(here);
          setPending(null);
          return;
        }
        setUnderstood(undefined);
        setProblem(refused instanceof Refused ? (refused.at("/text") ?? refused.message) : String(refused));
      }
      setPending(null);
    }, 120);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [pending, bare, crop, onChange, answers]);

  // Folded away before it was read: a plain amount is taken as it stands.
  const leaving = useRef<() => void>(undefined);
  useEffect(() => {
    leaving.current = () => {
      const here = pending === null ? null : readHere(pending, bare);
      if (here) onChange(here);
    };
  });
  useEffect(() => () => leaving.current?.(), []);

  // An error from elsewhere was about what stood here then: writing puts it away.
  const [putAway, setPutAway] = useState<string>();
  if (error === undefined && putAway !== undefined) setPutAway(undefined);

  const write = (next: string) => {
    setText(next);
    setPutAway(error);
    if (next.trim() === "") {
      setPending(null);
      setProblem(undefined);
      setUnderstood(undefined);
      // Emptied stays empty on the screen, even where the form goes on with the last good value.
      setGiven(value);
      onChange(null);
    } else setPending(next);
  };

  return (
    <Labelled
      label={label}
      error={problem ?? (error === putAway ? undefined : error)}
      hint={understood ? `Read as ${understood}` : hint}
      className={className ?? ""}
      hideLabel={hideLabel}
    >
      {(ids) => (
        <input
          {...ids}
          className="entry"
          value={text}
          inputMode="text"
          onChange={(e) => write(e.target.value)}
        />
      )}
    </Labelled>
  );
}
