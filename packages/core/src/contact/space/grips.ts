import type { ImpulseJoint, RigidBody, World } from '@dimforge/rapier3d-compat';
import { convexDistance, length3, carriedPoint, type ConvexSolid, type Place3, seenFrom } from '../../geometry';
import type { Gripper } from '../../machine';
import type { Felt, Grip, Owner } from './contact-forces';
import { Taking } from '../taking';
import { spaceEngine } from './engine';
import type { Fingers } from './fingers';
import type { SpacePart } from './space-part';

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

/** Where a body of the library stands. */
function placeOfBody(body: RigidBody): Place3 {
  const { x, y, z } = body.translation();
  const r = body.rotation();
  return { x, y, z, qw: r.w, qx: r.x, qy: r.y, qz: r.z };
}

const POINT: ConvexSolid = { corners: new Float64Array(3), radius: 0 };

/** Grippers in space: what they take or hold between fingers, and lose. */
export class SpaceGrips extends Taking<SpacePart, ImpulseJoint> {
  /** Parts that began to slip between fingers in the last step. */
  readonly slips: { gripper: string; part: number; way: number; presses: number }[] = [];

  constructor(private readonly need: GripsNeed) {
    super(need.grippers, need.parts);
  }

  override close(id: string): SpacePart | null {
    const fingers = this.need.fingers.get(id);
    return fingers ? fingers.close() : super.close(id);
  }

  override open(id: string): SpacePart | null {
    const fingers = this.need.fingers.get(id);
    return fingers ? fingers.open() : super.open(id);
  }

  override holding(id: string): SpacePart | null {
    return super.holding(id) ?? this.need.fingers.get(id)?.holding ?? null;
  }

  override drop(id: string): SpacePart | null {
    return super.drop(id) ?? this.need.fingers.get(id)?.letGo() ?? null;
  }

  private placeOf(gripper: Gripper): Place3 {
    const frame = this.need.placeOf(gripper);
    const [x, y, z] = carriedPoint(frame, [gripper.at[0], gripper.at[1], 0]);
    return { ...frame, x, y, z };
  }

  protected distancesFrom(gripper: Gripper): (part: SpacePart) => number {
    const at = this.placeOf(gripper);
    return ({ made, now }) => Math.min(...made.solids.map((solid) => convexDistance(POINT, at, solid, now)));
  }

  protected tie(gripper: Gripper, part: SpacePart): ImpulseJoint {
    const carrier = this.need.carrierOf(gripper).body.body;
    const { body } = this.need.ownerOf(part).body;
    const frame = placeOfBody(carrier);
    const { x, y, z, qw, qx, qy, qz } = seenFrom(frame, placeOfBody(body));
    const { JointData } = spaceEngine();
    const data = JointData.fixed({ x, y, z }, { w: qw, x: qx, y: qy, z: qz }, { x: 0, y: 0, z: 0 }, { w: 1, x: 0, y: 0, z: 0 }); // prettier-ignore
    const joint = this.need.world.createImpulseJoint(data, carrier, body, true);
    joint.setContactsEnabled(false);
    return joint;
  }

  protected untie(joint: ImpulseJoint): void {
    this.need.world.removeImpulseJoint(joint, true);
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
      this.lose(id, part.number, force);
    }
    this.lookOn();
    for (const [id, fingers] of this.need.fingers) {
      const held = fingers.holding;
      const { slips, lost } = fingers.after(felt, this.need.frameOf(fingers.gripper));
      if (slips !== null) this.slips.push({ gripper: id, part: held!.number, way: slips, presses: fingers.gripper.fingers!.force }); // prettier-ignore
      if (lost) this.lost.push({ gripper: id, part: lost.number, force: 0 });
    }
  }
}
