import { FRONT, type Axis, type Machine, type PathLead, type Place } from '../machine';
import { unit3, type Point3 } from '../geometry';
import { copyOf, leadPose, Reach, type DriveRange, type MechanismModel, type Mobility, type Positions } from '../mechanism'; // prettier-ignore
import { formatQuantity } from '../quantity';
import { explainMechanismFinding } from './explain-mechanism';
import { prepareMechanism } from './prepare';
import { travelEnds } from './travel-ends';

/** Where axes stand, m or rad along their positive directions. */
export type AxisPlaces = ReadonlyMap<string, number>;

/** What came of bringing a tool point to a place. */
export interface ReachedPose {
  places: Map<string, number>;
  /** Whether the body of the tool still looks where it did. */
  kept: boolean;
  /** Why the place was not reached; null where it was. */
  problem: string | null;
}

/** A place counts as reached from here on, as a share of the typical length. */
const THERE = 1e-8;

/** Poses of a machine by the positions of its axes: what stands where, and where axes must stand for it. */
export class AxisPoses {
  private readonly signs: readonly number[];
  private readonly ranges: readonly (DriveRange | null)[];

  private constructor(
    private readonly machine: Machine,
    readonly model: MechanismModel,
    private readonly mobility: Mobility,
    private readonly drawn: Positions,
  ) {
    this.signs = model.drives.map(({ axisId }) => (this.axis(axisId)!.reversed ? -1 : 1));
    this.ranges = model.drives.map((_, i) => this.rangeOf(i));
  }

  /** The poses of a machine, or why it has none. */
  static of(machine: Machine): AxisPoses | string {
    if (machine.mechanism.bodies.length === 0) return 'There is no mechanism yet: draw one in Build.';
    const prepared = prepareMechanism(machine);
    const error = prepared.findings.find(({ severity }) => severity === 'error');
    if (error) return explainMechanismFinding(error, machine);
    if (!('model' in prepared)) return 'The mechanism does not go together: see what Build says of it.';
    return new AxisPoses(machine, prepared.model, prepared.mobility, prepared.q);
  }

  /** Where the axes stand in a state of the mechanism; those that drive nothing in it are at home. */
  placesIn(q: Positions): Map<string, number> {
    const places = new Map(this.machine.axes.map(({ id, home }) => [id, home]));
    this.model.drives.forEach(({ axisId, coordinate }, i) => places.set(axisId, this.signs[i]! * coordinate.value(q)));
    return places;
  }

  /** Where the axes stand as the machine is drawn. */
  get drawnPlaces(): Map<string, number> {
    return this.placesIn(this.drawn);
  }

  /**
   * The state in which axes stand at these places; what is not named stays as drawn.
   * @returns the state, as far as it goes, and the share of the way that was reached
   */
  stateAt(places: AxisPlaces): { q: Positions; share: number } {
    const q = copyOf(this.drawn);
    return { q, share: leadPose(this.model, q, this.mobility.rows, this.toDrives(places, q)) };
  }

  /** Where a point stands when axes stand at these places, m; null where there is no such point. */
  placeOf(tool: Place, places: AxisPlaces): [number, number, number] | null {
    const { tree } = this.model;
    if (!tree.has(tool)) return null;
    tree.pose(this.stateAt(places).q);
    const spot = tree.spotOf(tree.point(tool));
    return [spot[0]!, spot[1]!, spot[2]!];
  }

  /** Straight against gravity; up in the front plane where there is none. */
  get up(): Point3 {
    const { on, vector } = this.machine.mechanism.gravity;
    const [x, y, z] = vector;
    return on && Math.hypot(x, y, z) > 1e-9 ? unit3([-x, -y, -z]) : [0, 1, 0];
  }

  /**
   * Where axes must stand for a tool point to be at a place, from other places by the least change. The body of the
   * tool keeps its direction where that can be.
   */
  reach(from: AxisPlaces, tool: Place, place: Point3): ReachedPose {
    const stuck = (problem: string): ReachedPose => ({ places: new Map(from), kept: true, problem });
    const { remaining } = this.mobility;
    if (remaining > 0)
      return stuck(
        `${remaining === 1 ? 'One freedom is' : `${remaining} freedoms are`} left that no axis leads, so a place says nothing about the axes: drive the rest, or type where each axis stands.`,
      );
    const { tree, scale, drives } = this.model;
    if (!tree.has(tool)) return stuck('Choose the tool point: a point of a body that stands in the drawing.');
    const point = tree.point(tool);
    const all = drives.map((_, i) => i);
    const begin = this.stateAt(from);
    if (begin.share < 1) return stuck('The pose that it starts from is out of reach of the mechanism itself.');
    const go = (keep: boolean) => {
      const reach = new Reach(this.model, begin.q, this.mobility.rows, all, this.ranges);
      return { reach, ...reach.to(point, place, keep && point.body >= 0 ? reach.axesOf(point.body) : null) };
    };
    const isThere = ({ gap }: { gap: number }) => gap < THERE * scale;
    let kept = true;
    let end = go(true);
    if (!(isThere(end) && end.turn < 1e-6)) {
      kept = false;
      end = go(false);
    }
    const places = new Map(from);
    drives.forEach(({ axisId }, i) => places.set(axisId, this.signs[i]! * end.reach.positions[i]!));
    if (isThere(end)) return { places, kept, problem: null };
    const body = this.machine.mechanism.bodies.find(({ id }) => id === tool.body);
    const ends = end.atEnd.map((i) => `“${this.axis(drives[i]!.axisId)!.name}”`);
    const why =
      ends.length > 0
        ? `${ends.join(' and ')} ${ends.length === 1 ? 'stands at an end of its travel' : 'stand at ends of their travel'}. Choose a place nearer by, or widen the travel.`
        : 'the axes do not get it any nearer. Choose a place within reach, or drive one more freedom.';
    return {
      places: new Map(from),
      kept: true,
      problem: `${body ? `The tool point of “${body.name}”` : 'The tool point'} stays ${formatQuantity(end.gap, 'length', this.machine.units, 3)} away from there: ${why}`,
    };
  }

  /** By how much each axis, going from one set of places to another, raises a point, and how far it takes it; m. */
  raises(from: AxisPlaces, to: AxisPlaces, tool: Place): Map<string, { up: number; way: number }> {
    const raised = new Map<string, { up: number; way: number }>();
    const { tree, drives } = this.model;
    if (this.mobility.remaining > 0 || !tree.has(tool)) return raised;
    const all = drives.map((_, i) => i);
    const reach = new Reach(this.model, this.stateAt(from).q, this.mobility.rows, all);
    const { up } = this;
    reach.slopes(tree.point(tool)).forEach(([x, y, z], i) => {
      const { axisId } = drives[i]!;
      const by = this.signs[i]! * ((to.get(axisId) ?? 0) - (from.get(axisId) ?? 0));
      raised.set(axisId, {
        up: (up[0] * x! + up[1] * y! + up[2] * z!) * by,
        way: Math.hypot(x!, y!, z!) * Math.abs(by),
      });
    });
    return raised;
  }

  private axis(id: string): Axis | undefined {
    return this.machine.axes.find((own) => own.id === id);
  }

  private toDrives(places: AxisPlaces, q: Positions): number[] {
    return this.model.drives.map(({ axisId, coordinate }, i) => {
      const place = places.get(axisId);
      return place === undefined ? coordinate.value(q) : this.signs[i]! * place;
    });
  }

  /** How far a drive may go: by the travel of its axis, and by stops of its joint. */
  private rangeOf(i: number): DriveRange | null {
    const { axisId, row } = this.model.drives[i]!;
    const { joint } = this.axis(axisId)!;
    const ends: DriveRange[] = this.machine.mechanism.elements.flatMap((own) =>
      own.kind === 'stop' && own.on && own.joint === joint
        ? [{ min: own.min ?? -Infinity, max: own.max ?? Infinity }]
        : [],
    );
    const travel = travelEnds(this.machine, this.model).find((end) => end.row === row);
    if (travel) ends.push({ min: travel.min ?? -Infinity, max: travel.max ?? Infinity });
    if (ends.length === 0) return null;
    return { min: Math.max(...ends.map(({ min }) => min)), max: Math.min(...ends.map(({ max }) => max)) };
  }
}

/** The tool that a machine seems to have: the last point of the body that the most others carry, drawn last of those. */
export function likelyTool(machine: Machine): Place | null {
  const { bodies, planes } = machine.mechanism;
  const depth = (plane: string): number => {
    const on = planes.find(({ id }) => id === plane)?.on;
    const carrier = plane === FRONT ? undefined : bodies.find(({ id }) => id === on);
    return carrier ? 1 + depth(carrier.plane) : 0;
  };
  const deepest = bodies.reduce((most, body) => Math.max(most, depth(body.plane)), 0);
  const body = bodies.filter((own) => depth(own.plane) === deepest).at(-1);
  return body ? { body: body.id, point: body.points.at(-1)!.id } : null;
}

/** A path in space to begin with: straight on from where a tool stands as it is drawn. */
export function straightOn(machine: Machine, tool: Place): NonNullable<PathLead['space']> {
  const poses = AxisPoses.of(machine);
  const at = typeof poses === 'string' ? null : poses.placeOf(tool, poses.drawnPlaces);
  const [x, y, z] = (at ?? [0, 0, 0]).map((part) => Number(part.toFixed(6))) as [number, number, number];
  return { start: [x, y, z], pieces: [{ kind: 'line', to: [x + 0.1, y, z] }], closed: false };
}
