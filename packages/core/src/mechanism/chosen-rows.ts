import { mobilityAt } from './mobility';
import type { MechanismModel } from './model';
import type { Positions } from './state';

/** Chosen equations whose smallest pivot has shrunk to this share of what it was are chosen anew. */
const WANING = 0.02;

/** How sound chosen equations are: their smallest pivot when they were chosen, 0 before they were first factored. */
export interface Soundness {
  sound: number;
}

/**
 * Whether equations that were independent where they were chosen are hardly so any longer; asked again, only where they
 * have become that much worse once more.
 * @param weakest their smallest pivot now, 0 where they could not be factored
 */
export function isWaning(chosen: Soundness, weakest: number): boolean {
  const wanes = weakest < WANING * chosen.sound;
  if (chosen.sound === 0 || wanes) chosen.sound = weakest;
  return wanes;
}

/** Which of the equations that say things twice count best at a pose; null where it is those that count already. */
export function chosenAnew(model: MechanismModel, q: Positions, rows: readonly number[]): number[] | null {
  const { rows: better } = mobilityAt(model, q);
  return better.length !== rows.length || better.every((row) => rows.includes(row)) ? null : better;
}
