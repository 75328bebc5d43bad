import type { ReactNode } from "react";
import { Tuft } from "../draw/marks";

const spring = [0.1, 0.2, 0.35, 0.5, 0.7, 0.85, 0.95, 1, 0.97, 0.9, 0.75, 0.6, 0.4, 0.25, 0.12];

/** What stands before the farm: signing in, and what links ask to. */
export function Doorway({ children }: { children: ReactNode }) {
  return (
    <main className="mx-auto flex min-h-dvh max-w-md flex-col justify-center px-6 py-10">
      <Tuft odds={spring} width={110} height={46} />
      <h1 className="pt-3 pb-1 text-3xl">Ink Meadow</h1>
      {children}
    </main>
  );
}
