import { carriedBy, partRests, solidOf, spaceBodyPieces, BodyFrames, type Carried, type SpacePart } from '../contact';
import {
  between3,
  carriedPoint,
  convexDistance,
  dot,
  length3,
  roundOf,
  STILL3,
  turnedBy,
  type ConvexSolid,
  type Place3,
  type Places,
  type Point3,
  type Round3,
} from '../geometry';
import { ACROSS, gravityOf, GROUND, TILT, type Machine } from '../machine';
import { MOVED, type Seeing, type Sight, type StepPoses } from './sight';

/** Where bodies stand at both ends of a step, worked out once for all that look. */
export class StepFrames {
  private readonly known: { poses: Places; frames: BodyFrames }[] = [];

  constructor(private readonly mechanism: Machine['mechanism']) {}

  private at(poses: Places): BodyFrames {
    const found = this.known.find((own) => own.poses === poses);
    if (found) return found.frames;
    const frames = new BodyFrames(this.mechanism);
    frames.take(poses);
    this.known.push({ poses, frames });
    if (this.known.length > 2) this.known.shift();
    return frames;
  }

  /** Where something stands that is carried, at a share of a step. */
  of({ before, now }: StepPoses, carried: Carried, share: number): Place3 {
    if (carried.body === GROUND) return carried.at;
    const to = this.at(now).at(carried);
    return share >= 1 ? to : between3(this.at(before).at(carried), to, share);
  }
}

/** The face of a sensor: a line, a box, or a strip across. */
function faceOf(sensing: Seeing): ConvexSolid {
  const { from, to } = sensing;
  if (sensing.kind === 'beam') {
    const { level = 0, toLevel = level } = sensing;
    return { corners: Float64Array.of(from[0], from[1], 0, to[0], to[1], toLevel - level), radius: 0 };
  }
  const half = (sensing.width ?? ACROSS) / 2;
  const flat: readonly (readonly [number, number])[] =
    sensing.kind === 'area' ? [from, [to[0], from[1]], to, [from[0], to[1]]] : [from, to];
  return { corners: Float64Array.from(flat.flatMap(([x, y]) => [x, y, -half, x, y, half])), radius: 0 };
}

/** What a sensor sees in space. */
export class SpaceSight implements Sight {
  readonly watchesBodies: boolean;
  readonly stands: boolean;
  part: number | null = null;
  private readonly face: ConvexSolid;
  private readonly round: Round3;
  private readonly carried: Carried;
  private readonly bodies: { carried: Carried; solids: ConvexSolid[] }[];
  private near: readonly SpacePart[] = [];
  /** The vertical, upwards. */
  private readonly up: Point3;

  /** @param parts of the world in which it looks */
  constructor(
    private readonly sensing: Seeing,
    { mechanism }: Machine,
    private readonly frames: StepFrames,
    private readonly parts: () => readonly SpacePart[],
  ) {
    this.face = faceOf(sensing);
    this.round = roundOf(this.face);
    const pull = gravityOf(mechanism);
    const size = length3(pull);
    this.up = size > 0 ? [-pull[0] / size, -pull[1] / size, -pull[2] / size] : [0, 1, 0];
    this.carried = carriedBy(mechanism, sensing);
    const watched = sensing.kind === 'proximity' ? sensing.bodies : [];
    this.bodies = watched.map((id) => {
      const { pieces, meshes } = spaceBodyPieces(mechanism, id, 'exact');
      const hulls = meshes.map(({ points }): ConvexSolid => ({ corners: points, radius: 0 }));
      return { carried: { body: id, at: STILL3 }, solids: [...pieces.map(solidOf), ...hulls] };
    });
    this.watchesBodies = this.bodies.length > 0;
    this.stands = this.carried.body === GROUND;
  }

  look(poses: StepPoses, reach: number): number {
    const { sensing } = this;
    if (sensing.kind === 'proximity' && !sensing.parts) {
      this.near = [];
      return 0;
    }
    const at = carriedPoint(this.frames.of(poses, this.carried, 1), this.round.at);
    const around = this.round.size + reach + (this.stands ? 0 : MOVED);
    this.near = this.parts().filter(({ kind, now, before, made }) => {
      if (sensing.sees.length > 0 && !sensing.sees.includes(kind)) return false;
      const within = around + made.size;
      return isBetween(at, [before.x, before.y, before.z], [now.x, now.y, now.z], within);
    });
    return this.near.length;
  }

  sees(poses: StepPoses, share: number, reach: number): boolean {
    const { face, round } = this;
    const stands = this.frames.of(poses, this.carried, share);
    const at = carriedPoint(stands, round.at);
    for (const { carried, solids } of this.bodies) {
      const place = this.frames.of(poses, carried, share);
      if (solids.some((solid) => convexDistance(face, stands, solid, place, reach + 1e-9) <= reach)) return true;
    }
    for (const part of this.near) {
      const place = between3(part.before, part.now, share);
      if (!this.standsRight(place)) continue;
      const { solids, rounds } = part.made;
      for (let i = 0; i < solids.length; i++) {
        const middle = carriedPoint(place, rounds[i]!.at);
        const within = rounds[i]!.size + round.size + reach;
        if (apart(middle, at) > within) continue;
        if (convexDistance(face, stands, solids[i]!, place, reach + 1e-9) > reach) continue;
        this.part = part.number;
        return true;
      }
    }
    return false;
  }

  /** Whether a part at a place stands as it must to be seen. */
  private standsRight(place: Place3): boolean {
    const { stands = 'anyhow', within = TILT } = this.sensing;
    if (stands === 'anyhow') return true;
    const rises = dot(turnedBy(place, [0, 1, 0]), this.up);
    if (stands === 'lying') return Math.abs(rises) <= Math.sin(within);
    return (stands === 'upright' ? rises : -rises) >= Math.cos(within);
  }

  allRest(): boolean {
    return this.near.every(partRests);
  }

  looks(): number {
    let most = 1;
    for (const { before, now, made } of this.near) {
      const smallest = Math.min(...made.rounds.map(({ size }) => size));
      most = Math.max(
        most,
        Math.ceil((4 * Math.hypot(now.x - before.x, now.y - before.y, now.z - before.z)) / smallest),
      );
    }
    return most;
  }
}

const apart = (a: Point3, b: Point3): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

/** Whether a way comes as near to a point, roughly: by the box round it. */
const isBetween = (at: Point3, from: Point3, to: Point3, within: number): boolean =>
  at.every((part, k) => part + within >= Math.min(from[k]!, to[k]!) && part - within <= Math.max(from[k]!, to[k]!));
