import type { PrismaticImpulseJoint, World } from '@dimforge/rapier3d-compat';
import {
  angleBetween,
  placeIn,
  pointWithin,
  STILL3,
  turnedBy,
  type Place3,
  type Point3,
  seenFrom,
} from '../../geometry';
import type { Gripper, GripperFingers } from '../../machine';
import type { ContactGroups } from '../colliders';
import { addColliders, pieceShape, type SpaceBody } from './colliders';
import type { Felt, Owner } from './contact-forces';
import { spaceEngine } from './engine';
import type { Carried } from './frames';
import type { ContactPiece } from './pieces';
import type { SpacePart } from './space-part';

/** How thick a finger is, m. */
const THICK = 0.005;
/**
 * Mass of a finger as a share of the heaviest part: neither so light that the solver lets a part creep between them nor so
 * heavy that they close late. What it weighs is none of the machine's; its inertia about its middle, m².
 */
const SHARE = 0.5;
const GYRATION = 2e-3;

/** A part that has gone so far between the fingers since they held it slips: m, and rad. */
const SLIP = 1e-3;
const SLIP_TURN = 0.05;
/** Steps without a touch of both fingers after which a part is lost. */
const PATIENCE = 10;

interface HeldPart {
  part: SpacePart;
  /** Where it stood in the frame of the gripper when it was taken. */
  at: Place3;
  slipped: boolean;
  missing: number;
}

/** Two fingers on a carrier that close with a force and hold by friction alone. */
export class Fingers {
  readonly owners: readonly Owner[];
  private readonly joints: readonly PrismaticImpulseJoint[];
  private readonly made: GripperFingers;
  private held: HeldPart | null = null;
  private closed = false;

  /**
   * @param carrier what carries them, and where its frame stands
   * @param carried where the gripper stands on it
   * @param heaviest mass of the heaviest part, kg
   */
  constructor(
    readonly gripper: Gripper,
    world: World,
    groups: ContactGroups,
    readonly carrier: Owner,
    frame: Place3,
    private readonly carried: Carried,
    heaviest: number,
  ) {
    const RAPIER = spaceEngine();
    const { fingers, at } = gripper;
    this.made = fingers!;
    const { angle, gap, height, width, material } = this.made;
    const mass = SHARE * heaviest;
    const joints: PrismaticImpulseJoint[] = [];
    this.owners = [1, -1].map((side) => {
      const way: Point3 = [side * Math.cos(angle), side * Math.sin(angle), 0];
      // A finger stands where its face touches the middle of the gap at the end of its way.
      const base = placeIn(carried.at, { ...STILL3, x: at[0] - (way[0] * gap) / 2, y: at[1] - (way[1] * gap) / 2 });
      const own: Place3 = { ...STILL3, x: base.x, y: base.y, z: base.z };
      const stands = placeIn(frame, own);
      const rigid = world.createRigidBody(
        RAPIER.RigidBodyDesc.dynamic()
          .setTranslation(stands.x, stands.y, stands.z)
          .setRotation({ w: stands.qw, x: stands.qx, y: stands.qy, z: stands.qz })
          .setGravityScale(0)
          .setCanSleep(false)
          .setAdditionalMassProperties(
            mass,
            { x: 0, y: 0, z: 0 },
            { x: GYRATION * mass, y: GYRATION * mass, z: GYRATION * mass },
            { w: 1, x: 0, y: 0, z: 0 },
          ),
      );
      const body: SpaceBody = { body: rigid, colliders: [] };
      const half = Math.cos(angle / 2);
      const turn: Place3 = { ...STILL3, qw: half, qz: Math.sin(angle / 2) };
      const face = placeIn({ ...carried.at, x: 0, y: 0, z: 0 }, turn);
      const piece = { kind: 'box', at: [(-side * THICK) / 2, 0, 0], half: [THICK / 2, height / 2, width / 2] } as const;
      addColliders(world, body, [pieceShape(piece)], groups.get(material), face);
      const [ax, ay, az] = turnedBy(carried.at, way);
      const data = RAPIER.JointData.prismatic(
        { x: own.x, y: own.y, z: own.z },
        { x: 0, y: 0, z: 0 },
        { x: ax, y: ay, z: az },
      );
      data.limitsEnabled = true;
      data.limits = [0, gap / 2];
      const joint = world.createImpulseJoint(data, carrier.body.body, rigid, true) as PrismaticImpulseJoint;
      joint.setContactsEnabled(false);
      joint.configureMotorModel(RAPIER.MotorModel.ForceBased);
      joints.push(joint);
      return { body, part: null, felt: true };
    });
    this.joints = joints;
    this.move(-1);
  }

  /** Drives both fingers to close (1) or to open (−1): at rest each presses with its force. */
  private move(side: 1 | -1): void {
    const { force, speed } = this.made;
    for (const joint of this.joints) joint.configureMotorVelocity(side * speed, force / speed);
  }

  close(): SpacePart | null {
    this.closed = true;
    this.move(1);
    return this.holding;
  }

  open(): SpacePart | null {
    this.closed = false;
    this.move(-1);
    return this.letGo();
  }

  get holding(): SpacePart | null {
    return this.held?.part ?? null;
  }

  /** Forgets what it holds; the fingers stay as they are. */
  letGo(): SpacePart | null {
    const part = this.holding;
    if (part) part.heldBy = null;
    this.held = null;
    return part;
  }

  /**
   * After a step: what both fingers touch is held; what goes from its place between them slips, and what they touch no
   * longer is lost.
   * @param frame of what carries them
   */
  after(felt: Felt, frame: Place3): { slips: number | null; lost: SpacePart | null } {
    const [one, other] = this.owners.map((owner) => felt.parts.get(owner) ?? new Set<SpacePart>());
    const nothing = { slips: null, lost: null };
    if (!this.closed) return nothing;
    const stands = placeIn(frame, this.carried.at);
    const { held } = this;
    if (!held) {
      const { kinds } = this.gripper;
      const part = [...one!].find((own) => other!.has(own) && (kinds.length === 0 || kinds.includes(own.kind)));
      if (!part) return nothing;
      part.heldBy = this.gripper.id;
      this.held = { part, at: seenFrom(stands, part.now), slipped: false, missing: 0 };
      return nothing;
    }
    held.missing = one!.has(held.part) && other!.has(held.part) ? 0 : held.missing + 1;
    if (held.missing > PATIENCE) return { slips: null, lost: this.letGo() };
    const now = seenFrom(stands, held.part.now);
    const way = Math.hypot(now.x - held.at.x, now.y - held.at.y, now.z - held.at.z);
    if (held.slipped || (way < SLIP && angleBetween(now, held.at) < SLIP_TURN)) return nothing;
    held.slipped = true;
    return { slips: way, lost: null };
  }

  /** How far each finger has closed, m, its carrier standing at a frame. */
  closedBy(frame: Place3): number[] {
    const { angle, gap } = this.made;
    const stands = placeIn(frame, this.carried.at);
    return this.owners.map(({ body }, i) => {
      const side = i === 0 ? 1 : -1;
      const { x, y, z } = body.body.translation();
      const [px, py] = pointWithin(stands, [x, y, z]);
      const along = (px - this.gripper.at[0]) * Math.cos(angle) + (py - this.gripper.at[1]) * Math.sin(angle);
      return gap / 2 + side * along;
    });
  }
}

/** Both fingers in the frame of their gripper, each closed by so much, m. */
export function fingerPieces(
  { at, fingers }: Pick<Gripper, 'at' | 'fingers'>,
  closed: readonly number[],
): ContactPiece[] {
  if (!fingers) return [];
  const { angle, gap, height, width } = fingers;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return [1, -1].map((side, i): ContactPiece => {
    const face = side * ((closed[i] ?? 0) - gap / 2);
    const corners = [face, face - side * THICK].flatMap((along) =>
      [-height / 2, height / 2].flatMap((beside) =>
        [-width / 2, width / 2].flatMap((z) => [at[0] + along * c - beside * s, at[1] + along * s + beside * c, z]),
      ),
    );
    return { kind: 'hull', corners: Float64Array.from(corners) };
  });
}
