import type { Gripper } from '../machine';

/** A part lost by a gripper because the force was too large. */
export interface Lost {
  gripper: string;
  part: number;
  /** What it asked for, N; 0 where it slipped out of fingers. */
  force: number;
}

interface Takable {
  kind: string;
  heldBy: string | null;
}

/** What a gripper holds, and by what joint of the physics library. */
export interface Holding<Part, Joint> {
  part: Part;
  joint: Joint;
  gripper: Gripper;
}

/** Grippers that take the nearest part within reach and hold it fast, in a plane or in space. */
export abstract class Taking<Part extends Takable, Joint> {
  /** Parts that a gripper let go of in the last step because it could not hold them. */
  readonly lost: Lost[] = [];
  protected readonly held = new Map<string, Holding<Part, Joint>>();
  protected readonly closed = new Set<string>();

  constructor(
    private readonly grippers: readonly Gripper[],
    private readonly parts: readonly Part[],
  ) {}

  /** Distance of the place of a gripper from a part, m: said anew for each search. */
  protected abstract distancesFrom(gripper: Gripper): (part: Part) => number;
  /** Ties a part to the carrier of a gripper, and unties it. */
  protected abstract tie(gripper: Gripper, part: Part): Joint;
  protected abstract untie(joint: Joint): void;

  /** Closes a gripper: from now on it takes the nearest part within reach. Returns the part it holds, or null. */
  close(id: string): Part | null {
    this.closed.add(id);
    return this.tryTake(id);
  }

  /** Opens a gripper. Returns the part that it let go of. */
  open(id: string): Part | null {
    this.closed.delete(id);
    return this.drop(id);
  }

  /** The part a gripper holds. */
  holding(id: string): Part | null {
    return this.held.get(id)?.part ?? null;
  }

  private gripper(id: string): Gripper {
    return this.grippers.find((own) => own.id === id)!;
  }

  /** The nearest part a gripper could take, with its distance in m. */
  nearest(id: string): { part: Part; distance: number } | null {
    const gripper = this.gripper(id);
    const distanceOf = this.distancesFrom(gripper);
    let best: { part: Part; distance: number } | null = null;
    for (const part of this.parts) {
      if (part.heldBy === id || (gripper.kinds.length > 0 && !gripper.kinds.includes(part.kind))) continue;
      const distance = distanceOf(part);
      if (!best || distance < best.distance) best = { part, distance };
    }
    return best;
  }

  protected tryTake(id: string): Part | null {
    const holding = this.holding(id);
    if (holding) return holding;
    const gripper = this.gripper(id);
    const found = this.nearest(id);
    if (!found || found.distance > gripper.reach) return null;
    const { part } = found;
    if (part.heldBy !== null) this.drop(part.heldBy);
    const joint = this.tie(gripper, part);
    part.heldBy = id;
    this.held.set(id, { part, joint, gripper });
    return part;
  }

  /** Lets go of what a gripper holds; a closed one goes on looking for a part. */
  drop(id: string): Part | null {
    const held = this.held.get(id);
    if (!held) return null;
    this.untie(held.joint);
    held.part.heldBy = null;
    this.held.delete(id);
    return held.part;
  }

  /** A part asked for more force than its gripper has: it is lost, and the gripper opens. */
  protected lose(id: string, part: number, force: number): void {
    this.drop(id);
    this.closed.delete(id);
    this.lost.push({ gripper: id, part, force });
  }

  /** Closed grippers take what came within reach. */
  protected lookOn(): void {
    for (const id of this.closed) this.tryTake(id);
  }
}
