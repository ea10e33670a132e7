import type { ImpulseJoint, World } from '@dimforge/rapier3d-compat';
import { convexDistance, length3, carriedPoint, type ConvexSolid, type Place3 } from '../../geometry';
import type { Gripper } from '../../machine';
import type { Felt, Grip, Owner } from './contact-forces';
import { spaceEngine } from './engine';
import type { Fingers } from './fingers';
import type { SpacePart } from './space-part';

interface Held {
  part: SpacePart;
  joint: ImpulseJoint;
  gripper: Gripper;
}

/** What grippers work in. */
interface GripsNeed {
  world: World;
  grippers: readonly Gripper[];
  parts: readonly SpacePart[];
  ownerOf(part: SpacePart): Owner;
  /** The body of the mechanism that a gripper is part of. */
  carrierOf(gripper: Gripper): Owner;
  /** Where the frame stands that a gripper is given in. */
  placeOf(gripper: Gripper): Place3;
  /** Where the frame of what carries it stands. */
  frameOf(gripper: Gripper): Place3;
  fingers: ReadonlyMap<string, Fingers>;
}

const POINT: ConvexSolid = { corners: new Float64Array(3), radius: 0 };

/** Grippers in space: what they take, hold and lose. */
export class SpaceGrips {
  /** Parts that a gripper let go of in the last step because it could not hold them. */
  readonly lost: { gripper: string; part: number; force: number }[] = [];
  /** Parts that began to slip between fingers in the last step. */
  readonly slips: { gripper: string; part: number; way: number; presses: number }[] = [];
  private readonly held = new Map<string, Held>();
  private readonly closed = new Set<string>();

  constructor(private readonly need: GripsNeed) {}

  /** Closes a gripper: from now on it takes the nearest part within reach. Returns the part it holds, or null. */
  close(id: string): SpacePart | null {
    const fingers = this.need.fingers.get(id);
    if (fingers) return fingers.close();
    this.closed.add(id);
    return this.tryTake(id);
  }

  /** Opens a gripper. Returns the part that it let go of. */
  open(id: string): SpacePart | null {
    const fingers = this.need.fingers.get(id);
    if (fingers) return fingers.open();
    this.closed.delete(id);
    return this.drop(id);
  }

  /** The part a gripper holds. */
  holding(id: string): SpacePart | null {
    return this.held.get(id)?.part ?? this.need.fingers.get(id)?.holding ?? null;
  }

  private placeOf(gripper: Gripper): Place3 {
    const frame = this.need.placeOf(gripper);
    const [x, y, z] = carriedPoint(frame, [gripper.at[0], gripper.at[1], 0]);
    return { ...frame, x, y, z };
  }

  /** The nearest part a gripper could take, with its distance in m. */
  nearest(id: string): { part: SpacePart; distance: number } | null {
    const gripper = this.need.grippers.find((g) => g.id === id)!;
    const at = this.placeOf(gripper);
    let best: { part: SpacePart; distance: number } | null = null;
    for (const part of this.need.parts) {
      if (part.heldBy === id || (gripper.kinds.length > 0 && !gripper.kinds.includes(part.kind))) continue;
      const distance = Math.min(...part.made.solids.map((solid) => convexDistance(POINT, at, solid, part.now)));
      if (!best || distance < best.distance) best = { part, distance };
    }
    return best;
  }

  private tryTake(id: string): SpacePart | null {
    const holding = this.holding(id);
    if (holding) return holding;
    const gripper = this.need.grippers.find((g) => g.id === id)!;
    const found = this.nearest(id);
    if (!found || found.distance > gripper.reach) return null;
    const { part } = found;
    if (part.heldBy !== null) this.drop(part.heldBy);
    const carrier = this.need.carrierOf(gripper).body.body;
    const { body } = this.need.ownerOf(part).body;
    const r = carrier.rotation();
    const frame: Place3 = { ...carrier.translation(), qw: r.w, qx: -r.x, qy: -r.y, qz: -r.z };
    const t = body.translation();
    const [x, y, z] = carriedPoint({ ...frame, x: 0, y: 0, z: 0 }, [t.x - frame.x, t.y - frame.y, t.z - frame.z]);
    const p = body.rotation();
    // The turn of the part as its carrier sees it.
    const turn = {
      w: r.w * p.w + r.x * p.x + r.y * p.y + r.z * p.z,
      x: r.w * p.x - r.x * p.w - r.y * p.z + r.z * p.y,
      y: r.w * p.y + r.x * p.z - r.y * p.w - r.z * p.x,
      z: r.w * p.z - r.x * p.y + r.y * p.x - r.z * p.w,
    };
    const { JointData } = spaceEngine();
    const data = JointData.fixed({ x, y, z }, turn, { x: 0, y: 0, z: 0 }, { w: 1, x: 0, y: 0, z: 0 });
    const joint = this.need.world.createImpulseJoint(data, carrier, body, true);
    joint.setContactsEnabled(false);
    part.heldBy = id;
    this.held.set(id, { part, joint, gripper });
    return part;
  }

  /** Lets go of what a gripper holds; a closed one goes on looking for a part. */
  drop(id: string): SpacePart | null {
    const held = this.held.get(id);
    if (!held) return this.need.fingers.get(id)?.letGo() ?? null;
    this.need.world.removeImpulseJoint(held.joint, true);
    held.part.heldBy = null;
    this.held.delete(id);
    return held.part;
  }

  /** All grips, as forces are read. */
  all(): Grip[] {
    return [...this.held].map(([id, { part, gripper }]) => {
      const { x, y, z } = this.placeOf(gripper);
      return { id, part, carrier: this.need.carrierOf(gripper), at: [x, y, z] };
    });
  }

  /** After a step: a part that asked for more force than its gripper has is lost, and closed grippers take what came near. */
  after(felt: Felt): void {
    for (const [id, { part, gripper }] of [...this.held]) {
      const force = length3(felt.grips.get(id)?.force ?? [0, 0, 0]);
      if (force <= gripper.force) continue;
      this.drop(id);
      this.closed.delete(id);
      this.lost.push({ gripper: id, part: part.number, force });
    }
    for (const id of this.closed) this.tryTake(id);
    for (const [id, fingers] of this.need.fingers) {
      const held = fingers.holding;
      const { slips, lost } = fingers.after(felt, this.need.frameOf(fingers.gripper));
      if (slips !== null) this.slips.push({ gripper: id, part: held!.number, way: slips, presses: fingers.gripper.fingers!.force }); // prettier-ignore
      if (lost) this.lost.push({ gripper: id, part: lost.number, force: 0 });
    }
  }
}
