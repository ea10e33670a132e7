import type { ImpulseJoint, RigidBody, World } from '@dimforge/rapier2d-compat';
import { placed, shapeDistance, type Point2 } from '../geometry';
import type { Gripper } from '../machine';
import { engine } from './engine';
import { centreOf, type Body, type LoosePart } from './loose-part';
import { forceAt, type ContactReader, type Push } from './pushes';
import { Taking } from './taking';

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
export class Grips extends Taking<LoosePart, ImpulseJoint> {
  /** What is held in the front plane hangs fast: it does not slip. */
  readonly slips: readonly never[] = [];
  /** Velocity of the centre of mass and turning of held parts before the step: m/s, rad/s. */
  private readonly speeds = new Map<string, [number, number, number]>();
  private readonly pushes = new Map<string, Push>();

  constructor(private readonly need: GripsNeed) {
    super(need.grippers, need.parts);
  }

  protected distancesFrom({ body, at }: Gripper): (part: LoosePart) => number {
    const carrier = this.need.carrierOf(body);
    const { x, y } = carrier.translation();
    const point = placed({ corners: [at], radius: 0 }, { x, y, angle: carrier.rotation() });
    return ({ pieces, now }) => Math.min(...pieces.map((piece) => shapeDistance(point, placed(piece, now))));
  }

  protected tie({ body: carriedBy }: Gripper, part: LoosePart): ImpulseJoint {
    const carrier = this.need.carrierOf(carriedBy);
    const { body } = this.need.bodyOf(part);
    const turn = body.rotation() - carrier.rotation();
    const [c, s] = [Math.cos(-carrier.rotation()), Math.sin(-carrier.rotation())];
    const dx = body.translation().x - carrier.translation().x;
    const dy = body.translation().y - carrier.translation().y;
    const data = engine().JointData.fixed({ x: c * dx - s * dy, y: s * dx + c * dy }, turn, { x: 0, y: 0 }, 0);
    const joint = this.need.world.createImpulseJoint(data, carrier, body, true);
    joint.setContactsEnabled(false);
    return joint;
  }

  protected untie(joint: ImpulseJoint): void {
    this.need.world.removeImpulseJoint(joint, true);
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
        this.lose(id, part.number, force);
        continue;
      }
      // Force and moment about the centre of mass make the part go as it went (Newton, Euler).
      const centre = centreOf(part);
      const turning =
        (inertia * (body.angvel() - before[2])) / step - (touch.moment - forceAt(centre, touch.force).moment);
      const own = forceAt(centre, grip);
      this.pushes.set(id, { force: own.force, moment: own.moment + turning });
    }
    this.lookOn();
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
