import { blendCorners, pathCurve, PathError, spaceCurve, type SpaceCurve } from '../geometry';
import type { Joint, Machine, Mechanism, MechanismPath, PathLead } from '../machine';

type Shape = MechanismPath['shape'];

/** Length of a path, m; null where there is none, or it has no course. */
function lengthOf(find: () => { length: number } | undefined): number | null {
  try {
    return find()?.length ?? null;
  } catch (error) {
    if (error instanceof PathError) return null;
    throw error;
  }
}

const curveOf = (shape: Shape | undefined) => shape && pathCurve(shape);

/** Whole length of the path that a joint leads along, m; null where it leads along none, or that has no course. */
export const pathLength = ({ paths }: Mechanism, joint: Joint | undefined): number | null =>
  joint && 'path' in joint ? lengthOf(() => curveOf(paths.find(({ id }) => id === joint.path)?.shape)) : null;

type Led = Pick<PathLead, 'path' | 'space' | 'blend'>;

/**
 * The path that a tool point is led along as it goes there: its corners blended.
 * @throws PathError where it has no course
 */
export function leadShape({ mechanism }: Machine, { path, blend }: Led): Shape | undefined {
  const drawn = mechanism.paths.find(({ id }) => id === path);
  return drawn && (blendCorners(drawn.shape, blend) as Shape);
}

/**
 * The path in space that a tool point is led along, its corners blended; null where it goes by a drawn path.
 * @throws PathError where it has no course
 */
export const leadSpace = ({ space, blend }: Led): SpaceCurve | null => (space ? spaceCurve(space, blend) : null);

/** Whole length of what a tool point is led along, its corners blended, m; null where there is none. */
export const leadLength = (machine: Machine, lead: Led): number | null =>
  lengthOf(() => leadSpace(lead) ?? curveOf(leadShape(machine, lead)));

/** Where one move along the whole path ends: at its end, or of a closed one once round from where it starts; m. */
export function wholeWay(machine: Machine, lead: PathLead): number | null {
  const length = leadLength(machine, lead);
  if (length === null) return null;
  const shape = leadShape(machine, lead);
  const closed = lead.space ? lead.space.closed : shape!.kind !== 'chain' || shape!.closed;
  return closed ? lead.start + length : length;
}
