import type { ImpulseJoint, RigidBody, World } from '@dimforge/rapier2d-compat';
import { placed, shapeDistance, type Point2 } from '../geometry';
import type { Gripper } from '../machine';
import { engine } from './engine';
import { centreOf, type Body, type LoosePart } from './loose-part';
import { forceAt, type ContactReader, type Push } from './pushes';

/** A part lost by a gripper because the force was too large. */
export interface Lost {
  gripper: string;
  part: number;
  /** What it asked for, N; 0 where it slipped out of fingers. */
  force: number;
}

interface Held {
  part: LoosePart;
  joint: ImpulseJoint;
  gripper: Gripper;
}

/** What grippers work in. */
export interface GripsNeed {
  world: World;
  contacts: ContactReader;
  grippers: readonly Gripper[];
  /** Acceleration of gravity, m/s², and length of a step, s. */
  gravity: Point2;
  step: number;
  parts: readonly LoosePart[];
  bodyOf(part: LoosePart): Body;
  /** The body of the mechanism that a gripper is part of. */
  carrierOf(body: string): RigidBody;
}

/** Grippers: what they take, hold and lose. */
export class Grips {
  /** Parts that a gripper let go of in the last step because it could not hold them. */
  readonly lost: Lost[] = [];
  /** What is held in the front plane hangs fast: it does not slip. */
  readonly slips: readonly never[] = [];
  private readonly held = new Map<string, Held>();
  private readonly closed = new Set<string>();
  /** Velocity of the centre of mass and turning of held parts before the step: m/s, rad/s. */
  private readonly speeds = new Map<string, [number, number, number]>();
  private readonly pushes = new Map<string, Push>();

  constructor(private readonly need: GripsNeed) {}

  /** Closes a gripper: from now on it takes the nearest part within reach. Returns the part it holds, or null. */
  close(id: string): LoosePart | null {
    this.closed.add(id);
    return this.tryTake(id);
  }

  /** Opens a gripper. Returns the part that it let go of. */
  open(id: string): LoosePart | null {
    this.closed.delete(id);
    return this.drop(id);
  }

  /** The part a gripper holds. */
  holding(id: string): LoosePart | null {
    return this.held.get(id)?.part ?? null;
  }

  /** The nearest part a gripper could take, with its distance in m. */
  nearest(id: string): { part: LoosePart; distance: number } | null {
    const gripper = this.need.grippers.find((g) => g.id === id)!;
    const at = this.pointOf(gripper);
    let best: { part: LoosePart; distance: number } | null = null;
    for (const part of this.need.parts) {
      if (part.heldBy === id || (gripper.kinds.length > 0 && !gripper.kinds.includes(part.kind))) continue;
      const distance = Math.min(
        ...part.pieces.map((piece) => shapeDistance({ corners: [at], radius: 0 }, placed(piece, part.now))),
      );
      if (!best || distance < best.distance) best = { part, distance };
    }
    return best;
  }

  private pointOf({ body, at }: Gripper): Point2 {
    const carrier = this.need.carrierOf(body);
    const { x, y } = carrier.translation();
    return placed({ corners: [at], radius: 0 }, { x, y, angle: carrier.rotation() }).corners[0]!;
  }

  private tryTake(id: string): LoosePart | null {
    const holding = this.holding(id);
    if (holding) return holding;
    const gripper = this.need.grippers.find((g) => g.id === id)!;
    const found = this.nearest(id);
    if (!found || found.distance > gripper.reach) return null;
    const { part } = found;
    if (part.heldBy !== null) this.drop(part.heldBy);
    const RAPIER = engine();
    const carrier = this.need.carrierOf(gripper.body);
    const { body } = this.need.bodyOf(part);
    const turn = body.rotation() - carrier.rotation();
    const [c, s] = [Math.cos(-carrier.rotation()), Math.sin(-carrier.rotation())];
    const dx = body.translation().x - carrier.translation().x;
    const dy = body.translation().y - carrier.translation().y;
    const data = RAPIER.JointData.fixed({ x: c * dx - s * dy, y: s * dx + c * dy }, turn, { x: 0, y: 0 }, 0);
    const joint = this.need.world.createImpulseJoint(data, carrier, body, true);
    joint.setContactsEnabled(false);
    part.heldBy = id;
    this.held.set(id, { part, joint, gripper });
    return part;
  }

  /** Lets go of what a gripper holds; a closed one goes on looking for a part. */
  drop(id: string): LoosePart | null {
    const held = this.held.get(id);
    if (!held) return null;
    this.need.world.removeImpulseJoint(held.joint, true);
    held.part.heldBy = null;
    this.held.delete(id);
    return held.part;
  }

  /** Notes how what is held moves before a step. */
  before(): void {
    this.lost.length = 0;
    for (const [id, { part }] of this.held) {
      const { body } = this.need.bodyOf(part);
      const v = body.linvel();
      this.speeds.set(id, [v.x, v.y, body.angvel()]);
    }
  }

  /**
   * After a step: what each gripper did to its part, on the mean of it. A part that asked for more force is lost, and
   * closed grippers take what came within reach.
   */
  after(): void {
    const { step, gravity, contacts } = this.need;
    this.pushes.clear();
    for (const [id, { part, gripper }] of [...this.held]) {
      const before = this.speeds.get(id)!;
      const { body, faces } = this.need.bodyOf(part);
      const after = body.linvel();
      const touch = contacts.on(faces);
      const { mass, inertia } = part.mass;
      const [tx, ty] = touch.force;
      const grip: Point2 = [
        mass * ((after.x - before[0]) / step - gravity[0]) - tx,
        mass * ((after.y - before[1]) / step - gravity[1]) - ty,
      ];
      const force = Math.hypot(...grip);
      if (force > gripper.force) {
        this.drop(id);
        this.closed.delete(id);
        this.lost.push({ gripper: id, part: part.number, force });
        continue;
      }
      // Force and moment about the centre of mass make the part go as it went (Newton, Euler).
      const centre = centreOf(part);
      const turning =
        (inertia * (body.angvel() - before[2])) / step - (touch.moment - forceAt(centre, touch.force).moment);
      const own = forceAt(centre, grip);
      this.pushes.set(id, { force: own.force, moment: own.moment + turning });
    }
    for (const id of this.closed) this.tryTake(id);
  }

  /** Parts that grippers of a body hold, and what these did to them in the last step. */
  on(bodyId: string): { part: LoosePart; push: Push }[] {
    if (this.pushes.size === 0) return [];
    const found: { part: LoosePart; push: Push }[] = [];
    for (const [id, push] of this.pushes) {
      const held = this.held.get(id);
      if (held?.gripper.body === bodyId) found.push({ part: held.part, push });
    }
    return found;
  }
}
