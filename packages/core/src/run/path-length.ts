import { blendCorners, pathCurve, PathError } from '../geometry';
import type { Joint, Machine, Mechanism, MechanismPath, PathLead } from '../machine';

type Shape = MechanismPath['shape'];

function lengthOf(shape: Shape | undefined): number | null {
  if (!shape) return null;
  try {
    return pathCurve(shape).length;
  } catch (error) {
    if (error instanceof PathError) return null;
    throw error;
  }
}

/** Whole length of the path that a joint leads along, m; null where it leads along none, or that has no course. */
export const pathLength = ({ paths }: Mechanism, joint: Joint | undefined): number | null =>
  joint && 'path' in joint ? lengthOf(paths.find(({ id }) => id === joint.path)?.shape) : null;

/** The path that a tool point is led along as it goes there: its corners blended. */
export function leadShape(
  { mechanism }: Machine,
  { path, blend }: Pick<PathLead, 'path' | 'blend'>,
): Shape | undefined {
  const drawn = mechanism.paths.find(({ id }) => id === path);
  return drawn && (blendCorners(drawn.shape, blend) as Shape);
}

/** Whole length of what a tool point is led along, its corners blended, m; null where there is none. */
export const leadLength = (machine: Machine, lead: Pick<PathLead, 'path' | 'blend'>): number | null =>
  lengthOf(leadShape(machine, lead));
