import { bodyOutline, bodyPieces, rests, type LoosePart } from '../contact';
import { boundsOf, placed, shapeDistance, type Place2, type Places, type RoundShape } from '../geometry';
import { GROUND, type Machine, type Sensor } from '../machine';

/** Poses of bodies at the start and at the end of a step. */
export interface StepPoses {
  before: Places;
  now: Places;
}

const STILL: Place2 = { x: 0, y: 0, angle: 0 };

/** A pose inside a step, straight between its ends. */
export function between(a: Place2, b: Place2, share: number): Place2 {
  return { x: a.x + share * (b.x - a.x), y: a.y + share * (b.y - a.y), angle: a.angle + share * (b.angle - a.angle) };
}

/** Where a body is inside a step. */
export function poseIn({ before, now }: StepPoses, body: string, share: number): Place2 {
  if (body === GROUND) return STILL;
  const to = now.get(body) ?? STILL;
  return share >= 1 ? to : between(before.get(body) ?? to, to, share);
}

/** A ball round a shape: its middle and its radius, m. */
interface Ball {
  x: number;
  y: number;
  size: number;
}

function ballRound(shape: RoundShape): Ball {
  const [l, b, r, t] = boundsOf(shape);
  return { x: (l + r) / 2, y: (b + t) / 2, size: Math.hypot(r - l, t - b) / 2 };
}

/** Balls round the pieces of a part, and the size of the smallest, kept: most pieces are far from most sensors. */
const balls = new WeakMap<readonly RoundShape[], { each: readonly Ball[]; smallest: number }>();

function ballsRound(pieces: readonly RoundShape[]): { each: readonly Ball[]; smallest: number } {
  const known = balls.get(pieces);
  if (known) return known;
  const each = pieces.map(ballRound);
  const made = { each, smallest: Math.min(...each.map(({ size }) => size)) };
  balls.set(pieces, made);
  return made;
}

type Seeing = Extract<Sensor['sensing'], { kind: 'beam' | 'area' | 'proximity' }>;

/** A sensor that sees parts or bodies: it knows whether something is there, and when that changed inside a step. */
export class Eye {
  private readonly face: RoundShape;
  /** Within this distance it is on; it goes off beyond this and the hysteresis. */
  private readonly distance: number;
  private readonly bodies: { id: string; shape: RoundShape }[];
  private on = false;
  /** Its face where it stands on the ground, and the box round it. */
  private readonly still: RoundShape | null;
  private readonly stillBox: readonly [number, number, number, number] | null;
  private readonly stillBall: Ball | null;
  /** How many parts were near when it last looked and all rested; −1 where that was not so. */
  private settled = -1;
  /** The part seen last. */
  part: number | null = null;

  constructor(
    readonly sensor: Sensor,
    private readonly sensing: Seeing,
    machine: Machine,
  ) {
    const { from, to } = sensing;
    this.face =
      sensing.kind === 'area'
        ? { corners: [from, [to[0], from[1]], to, [from[0], to[1]]], radius: 0 }
        : { corners: [from, to], radius: 0 };
    if (sensing.kind === 'area' && (to[0] - from[0]) * (to[1] - from[1]) < 0)
      this.face = { corners: [...this.face.corners].reverse(), radius: 0 };
    this.still = sensing.body === GROUND ? this.face : null;
    this.stillBox = this.still && boundsOf(this.still);
    this.stillBall = this.still && ballRound(this.still);
    this.distance = sensing.kind === 'proximity' ? sensing.distance : 0;
    const watched = sensing.kind === 'proximity' ? sensing.bodies : [];
    this.bodies = machine.mechanism.bodies
      .filter(({ id }) => watched.includes(id))
      .map((body) => ({
        id: body.id,
        shape: body.shape.kind === 'plate' ? bodyOutline(body) : bodyPieces(body, 'exact')[0]!,
      }));
  }

  /** Whether it sees something at a share of the step. */
  private sees(poses: StepPoses, parts: readonly LoosePart[], share: number, reach: number): boolean {
    const face = this.still ?? placed(this.face, poseIn(poses, this.sensing.body, share));
    const near = this.stillBall ?? ballRound(face);
    for (const { id, shape } of this.bodies)
      if (shapeDistance(face, placed(shape, poseIn(poses, id, share))) <= reach) return true;
    for (const part of parts) {
      const pose = between(part.before, part.now, share);
      const c = Math.cos(pose.angle);
      const s = Math.sin(pose.angle);
      const { each } = ballsRound(part.pieces);
      for (let i = 0; i < each.length; i++) {
        const { x, y, size } = each[i]!;
        const dx = pose.x + c * x - s * y - near.x;
        const dy = pose.y + s * x + c * y - near.y;
        const within = size + near.size + reach;
        if (dx * dx + dy * dy > within * within) continue;
        if (shapeDistance(face, placed(part.pieces[i]!, pose)) <= reach) {
          this.part = part.number;
          return true;
        }
      }
    }
    return false;
  }

  private candidates(poses: StepPoses, parts: readonly LoosePart[], reach: number): LoosePart[] {
    const { sensing } = this;
    if (sensing.kind === 'proximity' && !sensing.parts) return [];
    const [l, b, r, t] = this.stillBox ?? boundsOf(placed(this.face, poseIn(poses, sensing.body, 1)));
    const carried = sensing.body === GROUND ? 0 : 0.05;
    const found: LoosePart[] = [];
    for (let i = 0; i < parts.length; i++) {
      const { now, before, size, kind } = parts[i]!;
      const around = size + reach + carried;
      if (
        Math.max(now.x, before.x) + around >= l &&
        Math.min(now.x, before.x) - around <= r &&
        Math.max(now.y, before.y) + around >= b &&
        Math.min(now.y, before.y) - around <= t &&
        (sensing.sees.length === 0 || sensing.sees.includes(kind))
      )
        found.push(parts[i]!);
    }
    return found;
  }

  /** Looks needed in a step: so many that nothing small goes by between two of them. */
  private looks(near: readonly LoosePart[]): number {
    if (this.sensing.body !== GROUND || this.bodies.length > 0) return 4;
    let most = 1;
    for (const { before, now, pieces } of near) {
      most = Math.max(
        most,
        Math.ceil((4 * Math.hypot(now.x - before.x, now.y - before.y)) / ballsRound(pieces).smallest),
      );
    }
    return Math.min(16, most);
  }

  /** What it senses at the very start. */
  begin(poses: StepPoses, parts: readonly LoosePart[]): boolean {
    this.on = this.sees(poses, this.candidates(poses, parts, this.distance), 1, this.distance);
    return this.on;
  }

  /**
   * Changes inside a step, as shares of it. It is looked at so often that something small and fast is
   * not missed; the change itself is found by bisection.
   */
  changes(poses: StepPoses, parts: readonly LoosePart[]): { share: number; on: boolean }[] {
    const reach = () => this.distance + (this.on ? this.sensor.hysteresis : 0);
    const near = this.candidates(poses, parts, this.distance + this.sensor.hysteresis);
    if (near.length === 0 && this.bodies.length === 0) {
      this.settled = -1;
      if (!this.on) return [];
      this.on = false;
      return [{ share: 0, on: false }];
    }
    const still = near.every(rests) && this.still !== null && this.bodies.length === 0;
    // What rests since the last look is seen as it was.
    if (still && this.settled === near.length) return [];
    this.settled = still ? near.length : -1;
    if (still && this.sees(poses, near, 1, reach()) === this.on) return [];
    const found: { share: number; on: boolean }[] = [];
    const looks = still ? 1 : this.looks(near);
    let from = 0;
    for (let i = 1; i <= looks; i++) {
      const to = i / looks;
      if (this.sees(poses, near, to, reach()) === this.on) {
        from = to;
        continue;
      }
      const r = reach();
      const state = (share: number) => (share <= from ? this.on : this.sees(poses, near, share, r));
      // A millionth of the step is finer than the poses are.
      let low = from;
      let high = to;
      while (high - low > 1e-7) {
        const middle = (low + high) / 2;
        if (state(middle) === this.on) low = middle;
        else high = middle;
      }
      this.on = !this.on;
      if (this.on) this.sees(poses, near, high, r);
      found.push({ share: high, on: this.on });
      from = to;
    }
    return found;
  }
}

/** Whether a value is past a threshold, with hysteresis for going back. */
export function past(
  value: number,
  side: 'above' | 'below',
  threshold: number,
  hysteresis: number,
  was: boolean,
): boolean {
  const shifted = was ? hysteresis : 0;
  // An axis that stops on the threshold has reached it, in spite of rounding.
  return side === 'above' ? value >= threshold - shifted - 1e-12 : value <= threshold + shifted + 1e-12;
}
