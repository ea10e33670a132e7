import { blendCorners, pathCurve, PathError } from '../geometry';
import type { Joint, Machine, Mechanism, MechanismPath, PathLead } from '../machine';

type Shape = MechanismPath['shape'];

/** Length of a path, m; null where there is none, or it has no course. */
function lengthOf(find: () => Shape | undefined): number | null {
  try {
    const shape = find();
    return shape ? pathCurve(shape).length : null;
  } catch (error) {
    if (error instanceof PathError) return null;
    throw error;
  }
}

/** Whole length of the path that a joint leads along, m; null where it leads along none, or that has no course. */
export const pathLength = ({ paths }: Mechanism, joint: Joint | undefined): number | null =>
  joint && 'path' in joint ? lengthOf(() => paths.find(({ id }) => id === joint.path)?.shape) : null;

/**
 * The path that a tool point is led along as it goes there: its corners blended.
 * @throws PathError where it has no course
 */
export function leadShape(
  { mechanism }: Machine,
  { path, blend }: Pick<PathLead, 'path' | 'blend'>,
): Shape | undefined {
  const drawn = mechanism.paths.find(({ id }) => id === path);
  return drawn && (blendCorners(drawn.shape, blend) as Shape);
}

/** Whole length of what a tool point is led along, its corners blended, m; null where there is none. */
export const leadLength = (machine: Machine, lead: Pick<PathLead, 'path' | 'blend'>): number | null =>
  lengthOf(() => leadShape(machine, lead));

/** Where one move along the whole path ends: at its end, or of a closed one once round from where it starts; m. */
export function wholeWay(machine: Machine, lead: PathLead): number | null {
  const length = leadLength(machine, lead);
  if (length === null) return null;
  const shape = leadShape(machine, lead)!;
  return shape.kind !== 'chain' || shape.closed ? lead.start + length : length;
}
