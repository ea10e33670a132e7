import { circleOf, type Rotation } from '../geometry';
import { viewLines, type Mesh } from '../solid';
import { writeDxf, type DxfLine } from './dxf';

/** What a drawing of a view holds, beside its text. */
export interface ViewDrawing {
  text: string;
  /** How many lines are drawn, and how many of them are hidden ones. */
  lines: number;
  hidden: number;
}

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
