import { camOutline, type CamOutline, type Point2 } from '../geometry';
import { addCam, addJoint, addPath, addPlate, bodyPoint, GROUND, groundPoint, newDrive, worldOf, type Machine, type Place } from '../machine'; // prettier-ignore
import type { Run } from './simulate';
import { dropRivals } from './rivals';
import { posesAt } from './poses-at';
import { tracedPath } from './mechanism-channels';
import { sampleIndexAt } from './peaks';

/** What a cam is to be made of, beside the motion. */
export interface CamSize {
  /** Radius of the roller, m; 0 for a tip. */
  roller: number;
  /** +1 where the cam turns anticlockwise. */
  sense: 1 | -1;
}

const POINTS = 240;
/** A motion whose ends are no further apart than this, m or rad, comes back. */
const CLOSES = 1e-5;
const NO_RETURN = 'The motion does not come back to its start within the cycle, so no closed cam can give it.';

/** Reads samples of one cycle by the angle of a cam that makes one turn. */
function overTurn({ times, cycleTime }: Pick<Run, 'times' | 'cycleTime'>, samples: ArrayLike<number>) {
  return (angle: number): number => {
    const turn = angle / (2 * Math.PI);
    const time = (turn - Math.floor(turn)) * cycleTime;
    const k = Math.min(Math.max(0, sampleIndexAt(times, time)), times.length - 2);
    const span = times[k + 1]! - times[k]!;
    const share = span > 0 ? (time - times[k]!) / span : 0;
    return samples[k]! + share * (samples[k + 1]! - samples[k]!);
  };
}

/**
 * A cam that gives a slide, or a lever on a pivot, the motion of an axis: one turn a cycle, about the origin.
 * @param base of the tip or roller centre from the centre of the cam at the lowest position, m
 * @param lever distance of its pivot from the centre of the cam, and its length, m; none for a slide
 * @returns the outline, or a sentence that says why there is none
 */
export function camFromAxis(
  run: Run,
  axisId: string,
  { base, lever, ...size }: CamSize & { base: number; lever: { distance: number; length: number } | null },
): CamOutline | string {
  const position = run.axes.find((axis) => axis.axisId === axisId)?.channels.position;
  if (!position) return 'The axis does not move in this run.';
  if (Math.abs(position[0]! - position.at(-1)!) > CLOSES) return NO_RETURN;
  const low = position.reduce((least, v) => Math.min(least, v), Infinity);
  const at = overTurn(run, position);
  const lift = (angle: number) => ({ value: at(angle) - low, slope: 0 });
  if (!lever) return camOutline({ follower: { kind: 'slide', offset: 0, base }, ...size, lift }, POINTS);
  const { distance, length } = lever;
  // The triangle of pivot, centre and roller; the lever swings away from the cam as it counts up.
  const cosine = (distance ** 2 + length ** 2 - base ** 2) / (2 * distance * length);
  if (!(Math.abs(cosine) < 1))
    return 'A lever of this length does not reach from its pivot to where the roller rests: change its length, the pivot, or the distance at rest.';
  const follower = {
    kind: 'lever' as const,
    pivot: [distance, 0] as Point2,
    length,
    base: Math.PI + Math.acos(cosine),
  };
  return camOutline({ follower, ...size, lift }, POINTS);
}

/**
 * A cam that gives a drawn point the way it goes in a run, on a slide, a swinging lever or whatever carries it: one
 * turn a cycle about a point of the ground.
 * @param centre of the cam, m
 * @returns the outline about that centre, or a sentence that says why there is none
 */
export function camFromPoint(
  machine: Machine,
  run: Run,
  place: Place,
  [cx, cy]: Readonly<Point2>,
  size: CamSize,
): CamOutline | string {
  const points = tracedPath(machine, run, place);
  if (points.length < 3 || points.length < run.times.length)
    return 'The run does not go through the whole cycle, so there is no motion to make a cam of.';
  const [first, last] = [points[0]!, points.at(-1)!];
  if (Math.hypot(first[0] - last[0], first[1] - last[1]) > CLOSES) return NO_RETURN;
  const x = overTurn(
    run,
    Float64Array.from(points, (p) => p[0] - cx),
  );
  const y = overTurn(
    run,
    Float64Array.from(points, (p) => p[1] - cy),
  );
  const nearest = points.reduce((least, p) => Math.min(least, Math.hypot(p[0] - cx, p[1] - cy)), Infinity);
  if (nearest <= size.roller)
    return 'The roller comes over the centre of the cam: take a smaller roller or another centre.';
  const still = points.every((p) => Math.hypot(p[0] - first[0], p[1] - first[1]) < CLOSES);
  if (still) return 'The point does not move within the cycle.';
  const follower = { kind: 'point' as const, at: (angle: number): Point2 => [x(angle), y(angle)] };
  return camOutline({ follower, ...size, lift: () => ({ value: 0, slope: 0 }) }, POINTS);
}

/**
 * Draws a cam: a plate with its outline as a path. Where it has been made for a drawn point it is pinned to the ground
 * about its centre, turned once a cycle, and leads the point from where the run begins; drives that led it go.
 * @returns the plate's identifier, and the names of the drives taken off
 */
export function drawCam(
  machine: Machine,
  { outline }: CamOutline,
  [cx, cy]: Readonly<Point2>,
  leads: ({ place: Place; run: Run } & CamSize) | null,
): { body: string; off: string[] } {
  const m = machine.mechanism;
  if (leads) posesAt(leads.run, 0).forEach((pose, i) => (m.bodies[i]!.pose = pose));
  const there = outline.map(([x, y]): [number, number] => [x + cx, y + cy]);
  const plate = addPlate(m, there, m.bodies.some(({ name }) => name === 'Cam') ? undefined : 'Cam');
  // Its frame goes to the centre about which it turns.
  plate.pose = { x: cx, y: cy, angle: 0 };
  if (plate.shape.kind === 'plate') plate.shape.outline = outline.map(([x, y]) => [x, y]);
  plate.points = [{ id: 'p1', at: [0, 0] }];
  const path = addPath(m, plate.id, { kind: 'loop', through: outline });
  if (!leads) return { body: plate.id, off: [] };
  const pin = addJoint(m, 'pin', groundPoint(m, [cx, cy]), bodyPoint(m, plate.id, [cx, cy]));
  const follower = leads.roller > 0 ? { kind: 'roller' as const, radius: leads.roller } : { kind: 'tip' as const };
  const cam = addCam(m, path.id, leads.place, follower);
  const axis = newDrive(machine, pin, 0, 0);
  if (axis.motion.source.kind === 'constant') axis.motion.source.value *= leads.sense;
  machine.axes.push(axis);
  return { body: plate.id, off: dropRivals(machine, [axis.id, cam.id]).map(({ name }) => name) };
}

/** Points that a cam may be made for: those of moving bodies. */
export const camPlaces = ({ bodies }: Machine['mechanism']): Place[] =>
  bodies.flatMap((body) => body.points.map(({ id }) => ({ body: body.id, point: id })));

/** Points of the ground about which a cam may turn, and where they are, m. */
export const camCentres = (m: Machine['mechanism']) =>
  m.ground.map(({ id }) => ({ id, at: worldOf(m, { body: GROUND, point: id }) }));
