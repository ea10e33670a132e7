import type { PrismaticImpulseJoint, RigidBody, World } from '@dimforge/rapier2d-compat';
import { placed, shapeDistance, type Place2, type Places, type Point2, type RoundShape } from '../geometry';
import { gravityOf, GROUND, type Loose, type MassProperties, type Mechanism } from '../machine';
import { colliderShapes, contactGroups, type ContactGroups } from './colliders';
import { ContactError, engine, inLibrary, named, Stepper } from './engine';
import { Grips } from './grips';
import { boxRound, boxRoundBoth, centreOf, newBody, reachOf, type Body, type LoosePart } from './loose-part';
import { addPush, ContactReader, forceAt, NO_PUSH, type BodyPush } from './pushes';
import { Toucher, Touching } from './touching';
import { bodyPieces, partArea, partMass, partPieces, stripPieces } from './shapes';

/** Rounds of the contact solver in a step; each is a part of the step of its own. */
const ROUNDS = 4;
/** Least area of a part, m². */
const LEAST_AREA = 1e-12;
/** Where a body of the library is, its angle counted on from a pose before: the library gives angles in (−π, π]. */
function turnedOn(before: Place2, body: RigidBody): Place2 {
  const { x, y } = body.translation();
  const turned = body.rotation() - before.angle;
  return { x, y, angle: before.angle + turned - 2 * Math.PI * Math.round(turned / (2 * Math.PI)) };
}

const STILL: Place2 = { x: 0, y: 0, angle: 0 };

/**
 * Loose parts and what they touch, moved on in steps of equal length by the physics library (Rapier). Bodies of
 * the mechanism and belts are led; what parts push them with is told after each step.
 */
export class LooseWorld {
  readonly parts: LoosePart[] = [];
  /** Grippers, and the parts that they hold. */
  readonly grips: Grips;
  private readonly world: World;
  private readonly stepper: Stepper;
  private readonly contacts: ContactReader;
  private readonly touching: Touching;
  private readonly carriers = new Map<string, Body>();
  private readonly bodies = new Map<LoosePart, Body>();
  private readonly platforms = new Map<string, { body: RigidBody; at: Point2 }>();
  private readonly groups: ContactGroups;
  private readonly kindPieces: Map<string, { pieces: RoundShape[]; mass: MassProperties; size: number }>;
  /** Bodies of the mechanism that parts can push, with the poses they were last led to. */
  private readonly led: { id: string; carrier: Body; toucher: Toucher; pose: Place2 }[] = [];
  private readonly belts = new Map<string, Toucher>();
  /** Parts and platforms as what touches carriers. */
  private moving: Toucher[] = [];
  private released = 0;
  private steps = 0;

  /**
   * @param step length of a step in s
   * @param poses start poses of the bodies of the mechanism, by identifier
   * @param frictionScale factor on all coefficients of friction (scatter between runs)
   */
  constructor(
    private readonly loose: Loose,
    mechanism: Mechanism,
    private readonly step: number,
    poses: Places,
    frictionScale = 1,
  ) {
    const RAPIER = engine();
    // Parts lie in the front plane: what pulls across it moves none of them.
    const [gx, gy] = gravityOf(mechanism);
    this.gravity = [gx, gy];
    this.world = new RAPIER.World({ x: this.gravity[0], y: this.gravity[1] });
    this.world.timestep = step;
    this.stepper = new Stepper(this.world);
    this.contacts = new ContactReader(this.world, step);
    this.world.numSolverIterations = ROUNDS;
    this.kindPieces = new Map(
      loose.kinds.map((kind) => {
        const pieces = named(`The part “${kind.name}”`, () => partPieces(kind));
        if (!(partArea(kind).area > LEAST_AREA))
          throw new ContactError(`The part “${kind.name}” has no area: move its corners apart.`);
        return [kind.id, { pieces, mass: partMass(kind, loose.materials), size: reachOf(pieces) }];
      }),
    );
    this.groups = contactGroups(loose, frictionScale, (material) =>
      loose.kinds.reduce(
        (sum, { id, material: own }) => sum + (own === material ? this.kindPieces.get(id)!.pieces.length : 0),
        0,
      ),
    );
    const sizes = [...this.kindPieces.values()].map(({ size }) => size);
    // Tolerances of the library are shares of a typical length.
    this.world.lengthUnit = sizes.length > 0 ? Math.max(0.005, Math.min(...sizes)) : 0.05;
    // Many times the distance within which the library makes contacts.
    this.touching = new Touching(this.contacts, this.world.lengthUnit / 20);
    for (const solid of loose.solids) {
      const drawn = mechanism.bodies.find(({ id }) => id === solid.body);
      if (!drawn) continue;
      const pieces = named(`The body “${drawn.name}”`, () => bodyPieces(drawn, solid.as));
      this.carry(solid.body, poses, pieces, solid.material);
    }
    for (const surface of loose.surfaces)
      this.carry(surface.body, poses, stripPieces(surface.line, surface.thickness), surface.material);
    for (const gripper of loose.grippers) this.carry(gripper.body, poses, [], '');
    for (const belt of loose.belts) {
      const body = newBody(this.world.createRigidBody(RAPIER.RigidBodyDesc.kinematicPositionBased()));
      this.addColliders(body, stripPieces([belt.from, belt.to], belt.thickness), belt.material);
      this.belts.set(belt.id, new Toucher(body, STILL));
    }
    for (const platform of loose.platforms) this.addPlatform(platform);
    for (const { id } of mechanism.bodies) {
      const carrier = this.carriers.get(id);
      const pose = poses.get(id) ?? STILL;
      if (carrier) this.led.push({ id, carrier, toucher: new Toucher(carrier, pose), pose });
    }
    this.grips = new Grips({
      world: this.world,
      contacts: this.contacts,
      grippers: loose.grippers,
      gravity: this.gravity,
      step,
      parts: this.parts,
      bodyOf: (part) => this.bodies.get(part)!,
      carrierOf: (body) => this.carriers.get(body)!.body,
    });
  }

  /** Acceleration of gravity, m/s². */
  readonly gravity: Point2;

  private addColliders(to: Body, pieces: readonly RoundShape[], material: string): void {
    const RAPIER = engine();
    const group = this.groups.get(material);
    if (!group || pieces.length === 0) return;
    to.box = boxRoundBoth(to.box, boxRound(pieces));
    for (const piece of pieces)
      for (const make of colliderShapes(piece))
        for (const { filter, friction, restitution } of group.faces) {
          const groups = ((group.membership << 16) | filter) >>> 0;
          const desc = make()
            .setDensity(0)
            .setFriction(friction)
            .setRestitution(restitution)
            .setFrictionCombineRule(RAPIER.CoefficientCombineRule.Max)
            .setRestitutionCombineRule(RAPIER.CoefficientCombineRule.Max)
            .setCollisionGroups(groups);
          to.faces.push({ collider: this.world.createCollider(desc, to.body), groups, box: boxRound([piece]) });
        }
  }

  /** Adds pieces to a body of the mechanism, or to the ground. */
  private carry(id: string, poses: Places, pieces: readonly RoundShape[], material: string): void {
    const RAPIER = engine();
    let carrier = this.carriers.get(id);
    if (!carrier) {
      const pose = poses.get(id);
      const desc = id === GROUND ? RAPIER.RigidBodyDesc.fixed() : RAPIER.RigidBodyDesc.kinematicPositionBased();
      if (pose) desc.setTranslation(pose.x, pose.y).setRotation(pose.angle);
      carrier = newBody(this.world.createRigidBody(desc));
      this.carriers.set(id, carrier);
    }
    this.addColliders(carrier, pieces, material);
  }

  private addPlatform(platform: Loose['platforms'][number]): void {
    const RAPIER = engine();
    const [x, y] = platform.from;
    const base = this.world.createRigidBody(RAPIER.RigidBodyDesc.fixed().setTranslation(x, y));
    const line: Point2[] = [
      [0, 0],
      [platform.to[0] - x, platform.to[1] - y],
    ];
    const body = this.world.createRigidBody(
      RAPIER.RigidBodyDesc.dynamic()
        .setTranslation(x, y)
        .lockRotations()
        .setCanSleep(false)
        .setAdditionalMassProperties(platform.mass, { x: line[1]![0] / 2, y: line[1]![1] / 2 }, platform.mass),
    );
    const touching = newBody(body);
    this.addColliders(touching, stripPieces(line, platform.thickness), platform.material);
    const origin = { x: 0, y: 0 };
    const axis = { x: Math.cos(platform.angle), y: Math.sin(platform.angle) };
    const data = RAPIER.JointData.prismatic(origin, origin, axis);
    data.limitsEnabled = true;
    data.limits = [0, platform.travel];
    const joint = this.world.createImpulseJoint(data, base, body, true) as PrismaticImpulseJoint;
    joint.configureMotorModel(RAPIER.MotorModel.ForceBased);
    joint.configureMotorPosition(-platform.preload / platform.rate, platform.rate, platform.damping);
    this.platforms.set(platform.id, { body, at: [x, y] });
    this.moving.push(new Toucher(touching, { x, y, angle: 0 }));
  }

  /** How far a platform has given way, in the frame of the world: m. */
  platformShift(id: string): Point2 {
    const platform = this.platforms.get(id);
    if (!platform) return [0, 0];
    const { x, y } = platform.body.translation();
    return [x - platform.at[0], y - platform.at[1]];
  }

  /** Whether a part of this kind at this pose would overlap another part. */
  blocked(kind: string, pose: Place2): boolean {
    const made = this.kindPieces.get(kind);
    if (!made) return false;
    const shapes = made.pieces.map((piece) => placed(piece, pose));
    return this.parts.some(
      (part) =>
        Math.hypot(part.now.x - pose.x, part.now.y - pose.y) < part.size + made.size &&
        part.pieces.some((piece) => {
          const other = placed(piece, part.now);
          return shapes.some((shape) => shapeDistance(shape, other) < -1e-4 * made.size);
        }),
    );
  }

  /**
   * Releases a part.
   * @param ago how long before the end of the last step it was released, s: it has fallen since
   */
  release(source: string, kind: string, pose: Place2, velocity: Point2, ago: number): LoosePart {
    const RAPIER = engine();
    const made = this.kindPieces.get(kind)!;
    const drawn = this.loose.kinds.find(({ id }) => id === kind)!;
    const [gx, gy] = this.gravity;
    const at: Place2 = {
      x: pose.x + velocity[0] * ago + (gx * ago * ago) / 2,
      y: pose.y + velocity[1] * ago + (gy * ago * ago) / 2,
      angle: pose.angle,
    };
    // The library moves with the speed at the end of each round: half a round less at the start makes free flight exact.
    const round = ago - this.step / (2 * ROUNDS);
    const body = newBody(
      this.world.createRigidBody(
        RAPIER.RigidBodyDesc.dynamic()
          .setTranslation(at.x, at.y)
          .setRotation(at.angle)
          .setLinvel(velocity[0] + gx * round, velocity[1] + gy * round)
          .setCcdEnabled(true)
          .setAdditionalMassProperties(
            made.mass.mass,
            { x: made.mass.centre[0], y: made.mass.centre[1] },
            made.mass.inertia,
          ),
      ),
    );
    const part: LoosePart = {
      number: this.released++,
      kind,
      source,
      heldBy: null,
      before: pose,
      now: at,
      pieces: made.pieces,
      mass: made.mass,
      size: made.size,
    };
    this.parts.push(part);
    this.addColliders(body, made.pieces, drawn.material);
    this.bodies.set(part, body);
    this.moving.push(new Toucher(body, at, part));
    return part;
  }

  /** Takes a part out of the world. */
  remove(part: LoosePart): void {
    const body = this.bodies.get(part);
    if (!body) return;
    if (part.heldBy !== null) this.grips.drop(part.heldBy);
    this.world.removeRigidBody(body.body);
    this.bodies.delete(part);
    this.moving = this.moving.filter((toucher) => toucher.part !== part);
    this.parts.splice(this.parts.indexOf(part), 1);
  }

  /** Velocity of the centre of mass of a part, m/s. */
  velocityOf(part: LoosePart): Point2 {
    const v = this.bodies.get(part)!.body.linvel();
    return [v.x, v.y];
  }

  /**
   * Moves everything on by one step.
   * @param poses where the bodies of the mechanism are at its end
   * @param beltSpeed mean speed of a belt during the step, m/s
   */
  advance(poses: Places, beltSpeed: (belt: string) => number): void {
    for (const one of this.led) {
      const pose = poses.get(one.id) ?? one.pose;
      one.toucher.moveTo(pose);
      // What was led to a pose has come to it: led there again it would only be kept awake.
      if (one.pose === pose) continue;
      one.carrier.body.setNextKinematicTranslation(pose);
      if (one.pose.angle !== pose.angle) one.carrier.body.setNextKinematicRotation(pose.angle);
      one.pose = pose;
    }
    for (const belt of this.loose.belts) {
      const toucher = this.belts.get(belt.id)!;
      const { body } = toucher.body;
      const way = beltSpeed(belt.id) * this.step;
      // One that stands is left alone, so that what lies on it may come to rest.
      toucher.rests = way === 0 && toucher.way === 0 && this.steps > 0;
      if (toucher.rests) continue;
      toucher.way = Math.abs(way);
      const length = Math.hypot(belt.to[0] - belt.from[0], belt.to[1] - belt.from[1]);
      // A belt is a body that is led on and put back each step: its surface moves, its place does not.
      body.setTranslation({ x: 0, y: 0 }, false);
      body.setNextKinematicTranslation({
        x: (way * (belt.to[0] - belt.from[0])) / length,
        y: (way * (belt.to[1] - belt.from[1])) / length,
      });
    }
    this.grips.before();
    inLibrary(this.steps++ * this.step, () => this.stepper.step());
    for (const toucher of this.moving) {
      const { part } = toucher;
      const { body } = toucher.body;
      if (part) {
        part.before = part.now;
        if (!body.isSleeping()) part.now = turnedOn(part.before, body);
        toucher.moveTo(part.now);
      } else {
        const { x, y } = body.translation();
        toucher.moveTo({ x, y, angle: 0 });
      }
    }
    this.grips.after();
  }

  /** What parts did to a body of the mechanism in the last step, on the mean of it. */
  private pushOn(id: string, toucher: Toucher): BodyPush {
    const touch = this.touching.on(toucher, this.moving);
    const grips = this.grips.on(id);
    if (grips.length === 0) return { touching: touch.push, held: NO_PUSH, weight: NO_PUSH, parts: touch.parts };
    const held = { ...NO_PUSH };
    const weight = { ...NO_PUSH };
    for (const { part, push: own } of grips) {
      addPush(held, own, -1);
      const { mass } = part.mass;
      addPush(weight, forceAt(centreOf(part), [mass * this.gravity[0], mass * this.gravity[1]]));
    }
    const parts = [...new Set([...touch.parts, ...grips.map(({ part }) => part)])];
    return { touching: touch.push, held, weight, parts };
  }

  /** What parts did to each body of the mechanism that they can push, on the mean of the last step. */
  pushes(): { body: string; push: BodyPush }[] {
    return this.led.map(({ id, toucher }) => ({ body: id, push: this.pushOn(id, toucher) }));
  }

  /** Force along its way that parts hold a belt back (negative) or drive it with, N. */
  pushOnBelt(id: string): number {
    const { from, to } = this.loose.belts.find((b) => b.id === id)!;
    const [fx, fy] = this.touching.on(this.belts.get(id)!, this.moving).push.force;
    const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
    return (fx * (to[0] - from[0]) + fy * (to[1] - from[1])) / length;
  }

  /** Frees the memory of the library. */
  free(): void {
    this.stepper.free();
  }
}
