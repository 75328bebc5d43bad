import { Slider } from "radix-ui";
import type { Schemas } from "../api/client";
import { Choice } from "../kit/Choice";
import { Figure } from "../kit/Figure";
import { Pick } from "../kit/Pick";
import { QuantityField } from "../kit/Quantity";
import { useUnits } from "../units/useUnits";
import { shelved } from "../units/words";
import type { Quantity } from "../units/format";
import type { Change, Draft, DraftMember } from "./draft";

type Rates = Schemas["Answer_MixRates"];

interface Props {
  draft: Draft;
  change: Change;
  crops: Schemas["Crop"][];
  rates: Rates | null | undefined;
  errorAt: (pointer: string) => string | undefined;
}

const views: { value: Schemas["MixView"]; text: string }[] = [
  { value: "mass", text: "by mass" },
  { value: "live-seeds", text: "by live seeds" },
  { value: "full-rate", text: "by full rate" },
];

/** The members of a mix. One column is written, the other two follow. */
export function MixEditor({ draft, change, crops, rates, errorAt }: Props) {
  const units = useUnits();
  const grown = crops.filter((crop) => crop.seed);
  const free = grown.filter((crop) => !draft.members.some((member) => member.crop === crop.id));
  const setAmount = (crop: string, amount: Quantity | null) =>
    change((old) => ({
      members: old.members.map((member) => (member.crop === crop ? { ...member, amount } : member)),
    }));
  const worked = (crop: string) => rates?.value.members.find((member) => member.crop === crop);

  const add = (id: string) => {
    const crop = grown.find((one) => one.id === id);
    if (!crop?.sowing) return;
    const low = { value: crop.sowing.rate.low, unit: crop.sowing.rate.unit };
    const share = { value: 0, unit: "%" };
    if (draft.by === "mass") change({ members: [...draft.members, { crop: id, amount: low }] });
    else if (draft.by === "full-rate")
      change({ members: [...draft.members, { crop: id, amount: { ...share, value: 50 } }] });
    else {
      // The newcomer takes an even part, the others make room in proportion.
      const part = 100 / (draft.members.length + 1);
      const others = draft.members.map((member) => ({
        ...member,
        amount: { value: ((member.amount?.value ?? 0) * (100 - part)) / 100, unit: "%" },
      }));
      change({ members: [...others, { crop: id, amount: { ...share, value: part } }] });
    }
  };

  const remove = (index: number) => {
    const left = draft.members.filter((_, at) => at !== index);
    const sum = left.reduce((total, member) => total + (member.amount?.value ?? 0), 0);
    if (draft.by !== "live-seeds" || sum === 0) return change({ members: left });
    change({
      members: left.map((member) => ({
        ...member,
        amount: { value: ((member.amount?.value ?? 0) * 100) / sum, unit: "%" },
      })),
    });
  };

  /** The same mix, named another way: figures come from what was worked out. */
  const turn = (by: Schemas["MixView"]) => {
    const amount = (member: DraftMember): Quantity | null => {
      const row = worked(member.crop);
      if (!row) return null;
      return by === "mass" ? row.plain_rate : by === "live-seeds" ? row.live_seed_share : row.full_rate_share;
    };
    change({
      by,
      total: by === "live-seeds" ? (rates?.value.plain_live_seeds ?? null) : null,
      members: draft.members.map((member) => ({ ...member, amount: amount(member) })),
    });
  };

  const ready = draft.members.length === 0 || draft.members.every((member) => worked(member.crop));
  return (
    <div>
      {draft.members.length > 0 && (
        <fieldset disabled={!ready && draft.members.every((member) => member.amount !== null)}>
          <Choice label="Mix entered by" value={draft.by} onChange={turn} options={views} />
        </fieldset>
      )}
      <ul className="divide-y divide-rule">
        {draft.members.map((member, index) => (
          <Member
            key={member.crop}
            member={member}
            name={grown.find((crop) => crop.id === member.crop)?.name ?? member.crop}
            by={draft.by}
            bare={draft.by === "mass" ? units.rate : "%"}
            worked={worked(member.crop)}
            rates={rates}
            error={errorAt(`/choices/cover/mix/members/${index}`)}
            onChange={(amount) => setAmount(member.crop, amount)}
            onRemove={() => remove(index)}
          />
        ))}
      </ul>
      {draft.by === "live-seeds" && draft.members.length > 1 && (
        <ShareBar members={draft.members} crops={grown} onChange={(members) => change({ members })} />
      )}
      {draft.by === "live-seeds" && draft.members.length > 0 && (
        <QuantityField
          label="Total live seeds"
          bare={units.seeds}
          value={draft.total}
          onChange={(total) => change({ total })}
          error={errorAt("/choices/cover/mix/total")}
          hint="Leave blank for one full rate in total."
          className="pt-2"
        />
      )}
      {errorAt("/choices/cover/mix/members") && draft.members.length > 0 && (
        <p className="text-sm font-semibold text-stop">✕ {errorAt("/choices/cover/mix/members")}</p>
      )}
      <Pick
        className="pt-2"
        label={draft.members.length === 0 ? "Crop, or first species in the mix" : "Add species"}
        value=""
        onChange={add}
        empty="choose a crop"
        options={shelved(free)}
      />
    </div>
  );
}

interface MemberProps {
  member: DraftMember;
  name: string;
  by: Schemas["MixView"];
  bare: string;
  worked: Schemas["MemberRates"] | undefined;
  rates: Rates | null | undefined;
  error: string | undefined;
  onChange: (amount: Quantity | null) => void;
  onRemove: () => void;
}

function Member({ member, name, by, bare, worked, rates, error, onChange, onRemove }: MemberProps) {
  return (
    <li className="grid grid-cols-[minmax(0,1fr)_9.5rem_1.75rem] items-start gap-x-3 py-1.5">
      <div>
        <p className="font-semibold">{name}</p>
        {worked && (
          <p className="text-sm text-pencil">
            {by !== "mass" && (
              <>
                <Figure quantity={worked.plain_rate} />,{" "}
              </>
            )}
            {by !== "live-seeds" && (
              <>
                <Figure quantity={worked.live_seed_share} /> of live seeds{by === "full-rate" ? "" : ", "}
              </>
            )}
            {by !== "full-rate" && (
              <>
                <Figure
                  quantity={worked.full_rate_share}
                  explains={rates ?? undefined}
                  label={`${name}, share of full rate`}
                />{" "}
                of full rate
              </>
            )}
          </p>
        )}
      </div>
      <QuantityField
        label={by === "mass" ? `Rate of ${name}` : `Share of ${name}`}
        hideLabel
        bare={bare}
        crop={member.crop}
        value={member.amount}
        onChange={onChange}
        error={error}
      />
      <button
        type="button"
        className="min-h-9 text-xl text-pencil"
        aria-label={`Remove ${name}`}
        onClick={onRemove}
      >
        ×
      </button>
    </li>
  );
}

/** Shares as one bar: drag the borders between members. */
function ShareBar({
  members,
  crops,
  onChange,
}: {
  members: DraftMember[];
  crops: Schemas["Crop"][];
  onChange: (members: DraftMember[]) => void;
}) {
  const shares = members.map((member) => member.amount?.value ?? 0);
  const borders = shares
    .slice(0, -1)
    .map((_, index) => shares.slice(0, index + 1).reduce((a, b) => a + b, 0));
  const move = (next: number[]) => {
    const ends = [0, ...next, 100];
    onChange(
      members.map((member, index) => ({
        ...member,
        amount: { value: Math.round(((ends[index + 1] ?? 0) - (ends[index] ?? 0)) * 10) / 10, unit: "%" },
      })),
    );
  };
  const name = (index: number) => crops.find((crop) => crop.id === members[index]?.crop)?.name ?? "";
  return (
    <Slider.Root
      value={borders}
      min={0}
      max={100}
      step={1}
      minStepsBetweenThumbs={1}
      onValueChange={move}
      className="relative my-2 flex h-8 touch-none items-center select-none"
    >
      <Slider.Track className="relative h-5 w-full border border-ink">
        {members.map((member, index) => (
          <span
            key={member.crop}
            className="absolute top-0 h-full overflow-hidden pl-1 text-[0.8125rem] leading-[1.15rem] whitespace-nowrap"
            style={{
              left: `${index === 0 ? 0 : borders[index - 1]}%`,
              width: `${shares[index]}%`,
              background: index % 2 ? "transparent" : "var(--wash)",
            }}
          >
            {name(index)}
          </span>
        ))}
      </Slider.Track>
      {borders.map((_, index) => (
        <Slider.Thumb
          key={index}
          aria-label={`Divider between ${name(index)} and ${name(index + 1)}`}
          className="block h-8 w-2.5 cursor-ew-resize border-2 border-ink bg-paper"
        />
      ))}
    </Slider.Root>
  );
}
