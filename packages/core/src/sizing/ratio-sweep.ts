import { GEARBOX_DEFAULT, type Axis, type Machine } from '../machine';
import { isHeldBack } from '../run';
import { dutyOf } from './duty';
import type { Motor } from './motor';
import { rankMotors, type Candidate } from './rank';
import { runBase, type MachineBase } from './run-machine';

/** What one gear ratio comes to: the motor that ranks first with it. */
export interface SweptRatio {
  /** Turns of the motor for one turn of the gearbox' output; 1 without a gearbox. */
  ratio: number;
  /** The first of the ranking with this ratio, whether it fits or not. */
  best: Candidate;
  /** Inertia of the load over that of the motor and its brake. */
  inertiaRatio: number;
  /** Least margin over what is wanted, as a share; negative where it fails. */
  margin: number;
  /** Whether the axis has this ratio now. */
  isPresent: boolean;
}

/** Preferred numbers of the series R 20 (ISO 3) of one decade. */
const R20 = [1, 1.12, 1.25, 1.4, 1.6, 1.8, 2, 2.24, 2.5, 2.8, 3.15, 3.55, 4, 4.5, 5, 5.6, 6.3, 7.1, 8, 9];
/** Gear ratios that are tried. */
export const SWEPT_RATIOS: readonly number[] = [...R20, ...R20.map((n) => Number((10 * n).toPrecision(3))), 100];

/** The gearbox of an axis with another ratio; an axis without one is given one as it begins in Build. */
export const gearboxOf = ({ gearbox }: Pick<Axis, 'gearbox'>, ratio: number): NonNullable<Axis['gearbox']> => ({
  ...(gearbox ?? GEARBOX_DEFAULT),
  ratio,
});

/** How far the decisive check of a candidate is from what is wanted. */
export const marginOf = ({ decisive }: Candidate): number => decisive.margin - decisive.wanted;

/**
 * Sweeps the gear ratio of an axis: for each, the run of the machine with that gearbox, and the motor that then ranks
 * first. What the axis moves, its load and its mechanism, stays as it is.
 * @param base the run of the machine without rotors, where there is one already
 * @returns the ratios in rising order, or a sentence that says why there are none
 */
export async function sweepRatios(
  machine: Machine,
  axisId: string,
  motors: readonly Motor[],
  base?: MachineBase,
): Promise<SweptRatio[] | string> {
  const axis = machine.axes.find(({ id }) => id === axisId);
  if (!axis) return 'There is no such axis any more.';
  if (motors.length === 0) return 'The catalogue has no motors.';
  const { run, withGearbox } = base ?? (await runBase(machine));
  const own = run.axes.find((found) => found.axisId === axisId);
  if (!own || isHeldBack(own)) return `${axis.name} has no run that a motor could be judged by.`;
  const present = axis.gearbox?.ratio ?? null;
  const ratios = [...new Set([...SWEPT_RATIOS, ...(present === null ? [] : [present])])].sort((a, b) => a - b);
  return ratios.flatMap((ratio): SweptRatio[] => {
    // Straight on stays straight on: a gearbox of ratio 1 would only lose.
    const gearbox = present === null && ratio === 1 ? null : gearboxOf(axis, ratio);
    const changed = { ...axis, gearbox };
    const made = withGearbox(axisId, gearbox);
    if (!made) return [];
    const [best] = rankMotors(motors, dutyOf(changed, made, run.times), axis.sizing);
    if (!best) return [];
    const inertia = best.checks.find(({ code }) => code === 'inertia')!;
    const isPresent = ratio === (present ?? 1);
    return [{ ratio, best, inertiaRatio: inertia.required, margin: marginOf(best), isPresent }];
  });
}

/** The best of swept ratios by what motors are ranked by: the first of equals is the one with the larger margin. */
export function bestRatio(swept: readonly SweptRatio[], by: Axis['sizing']['rankBy']): SweptRatio | null {
  const value = ({ best, inertiaRatio, margin }: SweptRatio): number =>
    ({ mass: best.mass, loss: best.loss, torque: -margin, inertia: inertiaRatio })[by];
  return (
    swept
      .filter(({ best }) => best.fits)
      .reduce<SweptRatio | null>((found, next) => {
        if (!found) return next;
        const less = value(next) - value(found);
        return less < -1e-9 || (Math.abs(less) <= 1e-9 && next.margin > found.margin) ? next : found;
      }, null) ?? null
  );
}
