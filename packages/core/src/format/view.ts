import { roundsOf, type Point2, type Rotation, type Round } from '../geometry';
import { viewLines, type Mesh } from '../solid';
import { writeDxf, type DxfLine } from './dxf';

/** What a drawing of a view holds, beside its text. */
export interface ViewDrawing {
  text: string;
  /** How many lines are drawn, and how many of them are hidden ones. */
  lines: number;
  hidden: number;
}

/** A closed line with as many corners at least, no two further apart than this share of its radius, may be a circle. */
const FEWEST = 12;
const WIDEST = 0.55;

/**
 * Draws solids from afar, one layer each, in millimetres at full scale; hidden lines come dashed on layers of their own.
 * @param solids in the world, m
 * @param view axes of the drawing: to its right, up, and towards the eye
 * @param withHidden whether hidden lines are drawn
 */
export function writeView(
  solids: readonly { name: string; mesh: Mesh }[],
  view: Rotation,
  withHidden: boolean,
  progress?: (share: number) => void,
): ViewDrawing {
  const meshes = solids.map(({ mesh }) => mesh);
  const lines = viewLines(meshes, view, progress)
    .filter(({ hidden }) => withHidden || !hidden)
    .map(({ solid, hidden, points, closed }): DxfLine => {
      const { name } = solids[solid]!;
      const round = closed ? circleOf(points) : undefined;
      return { layer: hidden ? `${name} hidden` : name, closed, points, dashed: hidden, ...(round && { round }) };
    });
  return { text: writeDxf(lines), lines: lines.length, hidden: lines.filter(({ dashed }) => dashed).length };
}

/** The circle that a closed line of close corners is. */
function circleOf(points: readonly Point2[]): Round | undefined {
  if (points.length < FEWEST) return undefined;
  const [round, ...others] = roundsOf(points);
  if (!round || others.length > 0) return undefined;
  const isWhole = points.every(([x, y], i) => {
    const [bx, by] = points.at(i - 1)!;
    return (
      Math.hypot(x - bx, y - by) <= WIDEST * round.radius &&
      Math.abs(Math.hypot(x - round.centre[0], y - round.centre[1]) / round.radius - 1) < 1e-3
    );
  });
  return isWhole ? round : undefined;
}
