import { between, bodyOutline, bodyPieces, rests, type LoosePart } from '../contact';
import { boundsOf, placed, shapeDistance, type Place2, type RoundShape } from '../geometry';
import { GROUND, type Machine } from '../machine';
import { MOVED, type Seeing, type Sight, type StepPoses } from './sight';

const STILL: Place2 = { x: 0, y: 0, angle: 0 };

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

/** What a sensor sees in the front plane. */
export class FlatSight implements Sight {
  readonly watchesBodies: boolean;
  readonly stands: boolean;
  part: number | null = null;
  private readonly face: RoundShape;
  private readonly bodies: { id: string; shape: RoundShape }[];
  /** Its face where it stands on the ground, and the box round it. */
  private readonly still: RoundShape | null;
  private readonly stillBox: readonly [number, number, number, number] | null;
  private readonly stillBall: Ball | null;
  private near: readonly LoosePart[] = [];

  /** @param parts of the world in which it looks */
  constructor(
    private readonly sensing: Seeing,
    machine: Machine,
    private readonly parts: () => readonly LoosePart[],
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
    const watched = sensing.kind === 'proximity' ? sensing.bodies : [];
    this.bodies = machine.mechanism.bodies
      .filter(({ id }) => watched.includes(id))
      .map((body) => ({
        id: body.id,
        shape: body.shape.kind === 'plate' ? bodyOutline(body) : bodyPieces(body, 'exact')[0]!,
      }));
    this.watchesBodies = this.bodies.length > 0;
    this.stands = this.still !== null;
  }

  sees(poses: StepPoses, share: number, reach: number): boolean {
    const face = this.still ?? placed(this.face, poseIn(poses, this.sensing.body, share));
    const near = this.stillBall ?? ballRound(face);
    for (const { id, shape } of this.bodies)
      if (shapeDistance(face, placed(shape, poseIn(poses, id, share))) <= reach) return true;
    for (const part of this.near) {
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

  look(poses: StepPoses, reach: number): number {
    this.near = this.candidates(poses, reach);
    return this.near.length;
  }

  private candidates(poses: StepPoses, reach: number): readonly LoosePart[] {
    const { sensing } = this;
    if (sensing.kind === 'proximity' && !sensing.parts) return [];
    const [l, b, r, t] = this.stillBox ?? boundsOf(placed(this.face, poseIn(poses, sensing.body, 1)));
    const carried = sensing.body === GROUND ? 0 : MOVED;
    const parts = this.parts();
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

  allRest(): boolean {
    return this.near.every(rests);
  }

  looks(): number {
    let most = 1;
    for (const { before, now, pieces } of this.near) {
      most = Math.max(
        most,
        Math.ceil((4 * Math.hypot(now.x - before.x, now.y - before.y)) / ballsRound(pieces).smallest),
      );
    }
    return most;
  }
}
