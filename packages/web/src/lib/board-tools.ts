import type { Place } from '@yoke/core';

/** What the pointer does on the board. */
export type Tool =
  | 'choose'
  | 'hand'
  | 'bar'
  | 'plate'
  | 'disc'
  | 'ground'
  | 'pin'
  | 'weld'
  | 'slide'
  | 'slot'
  | 'path'
  | 'follow'
  | 'cylinder'
  | 'spring'
  | 'damper'
  | 'force'
  | 'torque'
  | 'trace'
  | 'measure';

/** A place in the world, m. */
export type At = [number, number];

/** A place the pointer is at: in the world, and the drawn point it snapped to. */
export interface Spot {
  at: At;
  place: Place | null;
  /** Bodies under the pointer, the topmost first; at the centre of something round, what carries it. */
  bodies: string[];
  /** Whether it is the centre of a hole, an arc or a round edge. */
  centre?: boolean;
  /** Whatever can be chosen there. */
  id: string | null;
}

/** What each tool asks for next. */
export const TOOL_HINTS: Record<Tool, string> = {
  choose: 'Click to choose, drag a point to redraw it, drag a body to move it. Shift adds to the choice.',
  hand: 'Drag a body to feel how it moves within its freedoms.',
  bar: 'Press at one end and drag to the other. Ends that meet are pinned together.',
  plate: 'Click the corners; click the first again, or press Enter, to finish.',
  disc: 'Press at the centre and drag the radius.',
  ground: 'Click the point of a body that shall turn on the ground.',
  pin: 'Click where two bodies shall turn on each other.',
  weld: 'Click where two bodies, or a body and the ground, shall be one.',
  slide: 'Press at a point of a body and drag along the rail. The body below it, or else the ground, carries the rail.',
  slot: 'Press at a point of a body and drag along the slot. The body below it, or else the ground, carries the slot.',
  path: 'Click the points of a path; click the first again to close it, or press Enter to finish.',
  follow: 'Click a point of a body that lies near a path: it will be held on it, or follow it as a cam.',
  cylinder: 'Press at one end and drag to the other; ends on the board itself stand on the ground.',
  spring: 'Press at one end and drag to the other; ends on the board itself stand on the ground.',
  damper: 'Press at one end and drag to the other; ends on the board itself stand on the ground.',
  force: 'Press at a point of a body and drag in the direction of the force.',
  torque: 'Click the body on which the torque acts.',
  trace: 'Click a point of a body whose path shall be drawn.',
  measure: 'Click two points for their distance, a third for the angle between.',
};

/** What is asked for while a path is chosen. */
export const PATH_HINT =
  'Drag a point of the path, or the diamond by which an arc bends. Double click on the line adds a point, Delete takes the chosen one away.';

/** Tools that are drawn from one end to another. */
export const TWO_ENDED: ReadonlySet<Tool> = new Set([
  'bar',
  'disc',
  'slide',
  'slot',
  'cylinder',
  'spring',
  'damper',
  'force',
]);
