import {
  between3,
  carriedPoint,
  convexDistance,
  placeIn,
  pointWithin,
  STILL3,
  turnedBy,
  type Place3,
  type Places,
  type Point3,
} from '../../geometry';
import { ACROSS, type Machine, type PartSink, type PartSource, type SourcePattern } from '../../machine';
import type { Draws, PartsWorld, ReleasePlace } from '../parts-world';
import { solidOf } from './pieces';
import { centreOfPart, partRests, type SpacePart } from './space-part';
import { beltInSpace } from './stations';
import { SpaceWorld } from './world';

/** Numbers of a part in a frame: its number, x, y, z, and its turn as a quaternion w, x, y, z. */
const WIDTH = 8;

/** Turns about an axis of the frame, rad. */
const about = (axis: 'qx' | 'qy' | 'qz', angle: number): Place3 => ({ ...STILL3, qw: Math.cos(angle / 2), [axis]: Math.sin(angle / 2) }); // prettier-ignore

/** Places of a pattern beside the first one, in the axes of the plane of its source, m. */
function besides(pattern: SourcePattern | undefined): Point3[] {
  if (!pattern) return [[0, 0, 0]];
  const { alongX, alongY, across, pitchX, pitchY, pitchAcross } = pattern;
  return Array.from({ length: alongX * alongY * across }, (_, n): Point3 => {
    const [i, j, k] = [n % alongX, Math.floor(n / alongX) % alongY, Math.floor(n / alongX / alongY)];
    return [i * pitchX, j * pitchY, k * pitchAcross];
  });
}

/** Loose parts that move in space. */
export class SpaceParts implements PartsWorld {
  readonly width = WIDTH;
  readonly world: SpaceWorld;
  /** Place below which a part has fallen out of the machine, along gravity, m. */
  private readonly depth: number;
  private readonly down: Point3;

  constructor(
    private readonly machine: Pick<Machine, 'loose' | 'mechanism'>,
    step: number,
    poses: Places,
    friction?: number,
  ) {
    const { loose, mechanism } = machine;
    this.world = new SpaceWorld(loose, mechanism, step, poses, friction);
    const g = this.world.gravity;
    const size = Math.hypot(...g);
    this.down = size > 0 ? [g[0] / size, g[1] / size, g[2] / size] : [0, -1, 0];
    const corners = [
      ...loose.sources.map((source) => this.at(source, source.at)),
      ...loose.surfaces.flatMap((surface) => surface.line.map((point) => this.at(surface, point))),
      ...[...loose.belts, ...loose.platforms, ...loose.sinks].flatMap((thing) => [
        this.at(thing, thing.from),
        this.at(thing, thing.to),
      ]),
    ];
    this.depth = Math.max(0, ...corners.map((corner) => this.below(corner))) + 1;
  }

  private at(thing: Parameters<SpaceWorld['placeOf']>[0], [x, y]: readonly [number, number]): Point3 {
    return carriedPoint(this.world.placeOf(thing), [x, y, 0]);
  }
  private below(point: Point3): number {
    return point.reduce((sum, part, k) => sum + part * this.down[k]!, 0);
  }

  get parts(): readonly SpacePart[] {
    return this.world.parts;
  }
  get grips() {
    return this.world.grips;
  }

  advance(poses: Places, beltSpeed: (belt: string) => number): void {
    this.world.advance(poses, beltSpeed);
  }

  places(source: PartSource, _: Places, draws: Draws): ReleasePlace[] {
    const { world } = this;
    const { at, angle, tilt = 0, swivel = 0, velocity, across = 0, scatter, kind, id } = source;
    const frame = world.placeOf(source);
    return besides(source.pattern).map((beside) => {
      const drawn = () => (scatter.place > 0 ? draws.within(scatter.place) : 0);
      const turn = scatter.angle > 0 ? draws.within(scatter.angle) : 0;
      const own = placeIn(placeIn(about('qz', angle + turn), about('qy', swivel)), about('qx', tilt));
      const place = placeIn(frame, {
        ...own,
        x: at[0] + beside[0] + drawn(),
        y: at[1] + beside[1] + drawn(),
        z: beside[2] + drawn(),
      });
      const speed = turnedBy(frame, [velocity[0], velocity[1], across]);
      return {
        blocked: () => world.blocked(kind, place),
        release: (ago) => world.release(id, kind, place, speed, ago),
      };
    });
  }

  remove(part: SpacePart): void {
    this.world.remove(part);
  }

  sinkOf(part: SpacePart, share: number): string | null {
    const centre = centreOfPart(part, between3(part.before, part.now, share));
    return this.machine.loose.sinks.find((sink) => this.isWithin(sink, centre))?.id ?? null;
  }

  private isWithin(sink: PartSink, centre: Point3): boolean {
    const [x, y, z] = pointWithin(this.world.placeOf(sink), centre);
    const { from, to, width = ACROSS } = sink;
    const within = (value: number, a: number, b: number) => value >= Math.min(a, b) && value <= Math.max(a, b);
    return within(x, from[0], to[0]) && within(y, from[1], to[1]) && within(z, -width / 2, width / 2);
  }

  isOut(part: SpacePart): boolean {
    const centre = centreOfPart(part);
    return this.below(centre) > this.depth || Math.hypot(...centre) > 100;
  }

  rests(part: SpacePart): boolean {
    return partRests(part);
  }

  wayOf({ before, now }: SpacePart): number {
    return Math.hypot(now.x - before.x, now.y - before.y, now.z - before.z);
  }

  beltsUnder(part: SpacePart): string[] {
    return this.machine.loose.belts
      .filter((belt) => {
        const { face, at } = beltInSpace(belt);
        const stands = placeIn(this.world.placeOf(belt), at);
        return face
          .map(solidOf)
          .some((solid) => part.made.solids.some((own) => convexDistance(own, part.now, solid, stands, 0.01) < 0.01));
      })
      .map(({ id }) => id);
  }

  shifts(): readonly (readonly number[])[] {
    const { platforms, grippers } = this.machine.loose;
    const fingers = grippers.filter((gripper) => gripper.fingers);
    return [
      ...platforms.map(({ id }) => this.world.platformShift(id)),
      ...fingers.flatMap(({ id }) => this.world.fingersClosed(id).map((closed) => [closed, 0, 0])),
    ];
  }

  pushOnBelt(id: string): number {
    return this.world.pushOnBelt(id);
  }

  write({ number, now }: SpacePart, data: Float32Array, at: number): void {
    data[at] = number;
    data[at + 1] = now.x;
    data[at + 2] = now.y;
    data[at + 3] = now.z;
    data[at + 4] = now.qw;
    data[at + 5] = now.qx;
    data[at + 6] = now.qy;
    data[at + 7] = now.qz;
  }

  free(): void {
    this.world.free();
  }
}
