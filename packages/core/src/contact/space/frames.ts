import { place3, placeIn, rotationOf, STILL3, type Place3, type Places } from '../../geometry';
import { GROUND, standingOf, type Mechanism, type Standing } from '../../machine';

/** What carries something, and where that stands in the frame of it. */
export interface Carried {
  body: string;
  at: Place3;
}

interface Stands {
  body?: string | undefined;
  plane?: string | undefined;
  level?: number | undefined;
}

/** Where something stands: on a body, or in a plane, which the ground or a body carries. */
export function carriedBy(mechanism: Mechanism, { body = GROUND, plane, level = 0 }: Stands): Carried {
  const at: Place3 = { ...STILL3, z: level };
  if (body !== GROUND || plane === undefined) return { body, at };
  const drawn = mechanism.planes.find(({ id }) => id === plane);
  if (!drawn) return { body, at };
  return { body: drawn.on, at: placeIn(place3(drawn.at, rotationOf(drawn.turn)), at) };
}

const isSame = (a: Place3, b: Place3): boolean =>
  a.x === b.x && a.y === b.y && a.z === b.z && a.qw === b.qw && a.qx === b.qx && a.qy === b.qy && a.qz === b.qz;

/** Where bodies stand in the world, worked out anew when one of them has moved. */
export class BodyFrames {
  private readonly rows: ReadonlyMap<string, number>;
  private last: Places | null = null;
  private frames = new Map<string, Place3>();
  private before: ReadonlyMap<string, Place3> = new Map();
  private standing: Standing;

  constructor(private readonly mechanism: Mechanism) {
    this.rows = new Map(mechanism.bodies.map(({ id }, row) => [id, row]));
    this.standing = this.standsIn();
  }

  private readonly standsIn = (poses?: Parameters<typeof standingOf>[1]) => standingOf(this.mechanism, poses);

  /** Takes the poses of bodies in their planes. */
  take(poses: Places): void {
    if (poses === this.last) return;
    this.last = poses;
    const { mechanism, standsIn } = this;
    this.before = new Map([...this.before, ...this.frames]);
    this.frames = new Map();
    this.standing = standsIn(mechanism.bodies.map(({ id, pose }) => poses.get(id) ?? pose));
  }

  /** Where a body stands; the ground is the world. What has not moved stands at the very place of before. */
  of(body: string): Place3 {
    if (!this.rows.has(body)) return STILL3;
    const known = this.frames.get(body);
    if (known) return known;
    const { at, axes } = this.standing.body(body);
    const made = place3(at, axes);
    const before = this.before.get(body);
    const frame = before && isSame(before, made) ? before : made;
    this.frames.set(body, frame);
    return frame;
  }

  /** Where something stands that is carried. */
  at({ body, at }: Carried): Place3 {
    return placeIn(this.of(body), at);
  }
}
