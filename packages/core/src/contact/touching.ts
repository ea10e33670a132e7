import type { Place2 } from '../geometry';
import { areNear, boxAt, mayMeet, reachOfBox, type Body, type Box, type LoosePart } from './loose-part';
import { NO_PUSH, type ContactReader, type Push } from './pushes';

/** What parts did to a carrier by touching it in the last step, and which of them. */
export interface Touch {
  push: Push;
  parts: readonly LoosePart[];
}

const NOTHING: Touch = { push: NO_PUSH, parts: [] };

/** Something that may touch others, and where it stands after a step. */
export class Toucher {
  /** How far any point of it may have gone in the last step, m. */
  way = 0;
  /** Whether the library left it where it was; what is awake may press otherwise without going anywhere. */
  rests = false;
  private at: Box;
  private facesAt: Box[] | null = null;
  private readonly reach: number;

  /** @param part the part that it is; null for others */
  constructor(
    readonly body: Body,
    private pose: Place2,
    readonly part: LoosePart | null = null,
  ) {
    this.reach = reachOfBox(body.box);
    this.at = boxAt(body.box, pose);
  }

  /** Moves it to where it stands after a step. */
  moveTo(pose: Place2): void {
    const from = this.pose;
    this.rests = from === pose;
    if (this.rests) {
      this.way = 0;
      return;
    }
    this.way = Math.hypot(pose.x - from.x, pose.y - from.y) + this.reach * Math.abs(pose.angle - from.angle);
    this.pose = pose;
    this.at = boxAt(this.body.box, pose);
    this.facesAt = null;
  }

  /** The upright box round it. */
  get box(): Box {
    return this.at;
  }

  /** The upright boxes round its faces. */
  get faceBoxes(): readonly Box[] {
    return (this.facesAt ??= this.body.faces.map(({ box }) => boxAt(box, this.pose)));
  }
}

/**
 * Reads what parts do to carriers by touching them. The library is asked only for colliders that are near each other,
 * and not again while all of them rest: it then leaves what they do to each other as it was.
 */
export class Touching {
  private readonly settled = new Map<Toucher, { touch: Touch; near: number }>();

  /** @param slack within which the library may let things touch, m */
  constructor(
    private readonly contacts: ContactReader,
    private readonly slack: number,
  ) {}

  /** What others did to a carrier in the last step. */
  on(carrier: Toucher, others: readonly Toucher[]): Touch {
    const within = carrier.way + this.slack;
    let near: Toucher[] | null = null;
    for (let i = 0; i < others.length; i++) {
      const other = others[i]!;
      if (areNear(other.box, carrier.box, within + other.way)) (near ??= []).push(other);
    }
    if (near === null) {
      this.settled.delete(carrier);
      return NOTHING;
    }
    const rests = carrier.rests && near.every((other) => other.rests);
    const known = rests ? this.settled.get(carrier) : undefined;
    if (known?.near === near.length) return known.touch;
    const touch = this.read(carrier, near);
    if (rests) this.settled.set(carrier, { touch, near: near.length });
    else this.settled.delete(carrier);
    return touch;
  }

  private read(carrier: Toucher, near: readonly Toucher[]): Touch {
    const push = { ...NO_PUSH };
    const parts: LoosePart[] = [];
    const { faces } = carrier.body;
    const { faceBoxes } = carrier;
    for (const other of near) {
      const within = carrier.way + other.way + this.slack;
      let presses = false;
      for (let k = 0; k < other.body.faces.length; k++) {
        const box = other.faceBoxes[k]!;
        if (!areNear(box, carrier.box, within)) continue;
        for (let i = 0; i < faces.length; i++) {
          if (!areNear(box, faceBoxes[i]!, within) || !mayMeet(faces[i]!, other.body.faces[k]!)) continue;
          if (this.contacts.between(faces[i]!.collider, other.body.faces[k]!.collider, push)) presses = true;
        }
      }
      if (presses && other.part) parts.push(other.part);
    }
    return { push, parts };
  }
}
