import { placed, shapeDistance, type Place2, type Places } from '../geometry';
import type { Machine, PartSink, PartSource } from '../machine';
import { centreOf, rests, type LoosePart } from './loose-part';
import type { Draws, PartsWorld, ReleasePlace } from './parts-world';
import { LooseWorld } from './world';

const STILL: Place2 = { x: 0, y: 0, angle: 0 };

/** Numbers of a part in a frame: its number, x, y, angle. */
const WIDTH = 4;

/** A pose inside a step, straight between its ends. */
export const between = (a: Place2, b: Place2, share: number): Place2 => ({
  x: a.x + share * (b.x - a.x),
  y: a.y + share * (b.y - a.y),
  angle: a.angle + share * (b.angle - a.angle),
});

const isWithin = ({ from, to }: PartSink, x: number, y: number): boolean =>
  x >= Math.min(from[0], to[0]) &&
  x <= Math.max(from[0], to[0]) &&
  y >= Math.min(from[1], to[1]) &&
  y <= Math.max(from[1], to[1]);

/** Loose parts that move in the front plane. */
export class FlatParts implements PartsWorld {
  readonly width = WIDTH;
  readonly world: LooseWorld;
  /** Height below which a part has fallen out of the machine, m. */
  private readonly floor: number;

  constructor(
    private readonly machine: Pick<Machine, 'loose' | 'mechanism'>,
    step: number,
    poses: Places,
    friction?: number,
  ) {
    const { loose, mechanism } = machine;
    this.world = new LooseWorld(loose, mechanism, step, poses, friction);
    const ys = [
      ...loose.sources.map(({ at }) => at[1]),
      ...loose.surfaces.flatMap(({ line }) => line.map(([, y]) => y)),
      ...loose.belts.flatMap(({ from, to }) => [from[1], to[1]]),
      ...loose.platforms.flatMap(({ from, to }) => [from[1], to[1]]),
      ...loose.sinks.flatMap(({ from, to }) => [from[1], to[1]]),
      ...mechanism.ground.map(({ at }) => at[1]),
    ];
    this.floor = Math.min(0, ...ys) - 1;
  }

  get parts(): readonly LoosePart[] {
    return this.world.parts;
  }
  get grips() {
    return this.world.grips;
  }

  advance(poses: Places, beltSpeed: (belt: string) => number): void {
    this.world.advance(poses, beltSpeed);
  }

  places(source: PartSource, poses: Places, draws: Draws): ReleasePlace[] {
    const { world } = this;
    const carrier = source.body === 'ground' ? STILL : (poses.get(source.body) ?? STILL);
    const beside = source.scatter.place;
    const dx = source.at[0] + (beside > 0 ? draws.within(beside) : 0);
    const dy = source.at[1] + (beside > 0 ? draws.within(beside) : 0);
    const turn = source.angle + (source.scatter.angle > 0 ? draws.within(source.scatter.angle) : 0);
    const [c, s] = [Math.cos(carrier.angle), Math.sin(carrier.angle)];
    const pose = { x: carrier.x + c * dx - s * dy, y: carrier.y + s * dx + c * dy, angle: carrier.angle + turn };
    const [vx, vy] = source.velocity;
    return [
      {
        blocked: () => world.blocked(source.kind, pose),
        release: (ago) => world.release(source.id, source.kind, pose, [c * vx - s * vy, s * vx + c * vy], ago),
      },
    ];
  }

  remove(part: LoosePart): void {
    this.world.remove(part);
  }

  sinkOf(part: LoosePart, share: number): string | null {
    const [x, y] = centreOf(part, share >= 1 ? part.now : between(part.before, part.now, share));
    return this.machine.loose.sinks.find((sink) => isWithin(sink, x, y))?.id ?? null;
  }

  isOut(part: LoosePart): boolean {
    const [x, y] = centreOf(part);
    return y < this.floor || Math.abs(x) > 100;
  }

  rests(part: LoosePart): boolean {
    return rests(part);
  }

  wayOf({ before, now }: LoosePart): number {
    return Math.hypot(now.x - before.x, now.y - before.y);
  }

  beltsUnder(part: LoosePart): string[] {
    return this.machine.loose.belts
      .filter(({ from, to, thickness }) => {
        const line = { corners: [from, to], radius: thickness };
        return part.pieces.some((piece) => shapeDistance(placed(piece, part.now), line) < 0.01);
      })
      .map(({ id }) => id);
  }

  shifts(): readonly (readonly number[])[] {
    return this.machine.loose.platforms.map(({ id }) => this.world.platformShift(id));
  }

  pushOnBelt(id: string): number {
    return this.world.pushOnBelt(id);
  }

  write({ number, now }: LoosePart, data: Float32Array, at: number): void {
    data[at] = number;
    data[at + 1] = now.x;
    data[at + 2] = now.y;
    data[at + 3] = now.angle;
  }

  free(): void {
    this.world.free();
  }
}
