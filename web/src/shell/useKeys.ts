import { useEffect, useRef } from "react";

/** Single-key shortcuts, silent while somebody types or a sheet is open; "mod+k" works always. */
export function useKeys(keys: Record<string, () => void>) {
  const latest = useRef(keys);
  useEffect(() => {
    latest.current = keys;
  });
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const chord = event.ctrlKey || event.metaKey ? `mod+${event.key.toLowerCase()}` : event.key;
      const action = latest.current[chord];
      if (!action || event.altKey) return;
      const target = event.target as HTMLElement;
      const typing = target.closest(
        "input, textarea, [role=combobox], [role=listbox], [contenteditable=true], [role=dialog], [role=menu]",
      );
      if (typing && !chord.startsWith("mod+")) return;
      event.preventDefault();
      action();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}
