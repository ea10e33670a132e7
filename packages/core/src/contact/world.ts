import type { Collider, PrismaticImpulseJoint, RigidBody, World } from '@dimforge/rapier2d-compat';
import { placed, shapeDistance, type Place2, type Point2, type RoundShape } from '../geometry';
import { GROUND, type Loose, type Mechanism } from '../machine';
import type { MassProperties } from '../mechanism';
import { colliderShapes, contactGroups, type ContactGroups } from './colliders';
import { ContactError, engine, inLibrary, named, stepWorld } from './engine';
import { Grips } from './grips';
import { centreOf, reachOf, type Body, type LoosePart } from './loose-part';
import { addPush, ContactReader, forceAt, type BodyPush } from './pushes';
import { bodyPieces, partArea, partMass, partPieces, stripPieces } from './shapes';

/** Rounds of the contact solver in a step; each is a part of the step of its own. */
const ROUNDS = 4;
/** Least area of a part, m². */
const LEAST_AREA = 1e-12;
const carrierId = { body: (id: string) => `body ${id}`, belt: (id: string) => `belt ${id}` };

/**
 * Loose parts and what they touch, moved on in steps of equal length by the physics library (Rapier). Bodies of
 * the mechanism and belts are led; what parts push them with is told after each step.
 */
export class LooseWorld {
  readonly parts: LoosePart[] = [];
  /** Grippers, and the parts that they hold. */
  readonly grips: Grips;
  private readonly world: World;
  private readonly contacts: ContactReader;
  private readonly carriers = new Map<string, Body>();
  private readonly bodies = new Map<LoosePart, Body>();
  /** Parts by the handles of their colliders. */
  private readonly partOf = new Map<number, LoosePart>();
  private readonly platforms = new Map<string, { body: RigidBody; at: Point2 }>();
  private readonly groups: ContactGroups;
  private readonly kindPieces: Map<string, { pieces: RoundShape[]; mass: MassProperties; size: number }>;
  private readonly bodyIds: ReadonlySet<string>;
  /** Poses that bodies of the mechanism were last led to. */
  private readonly led = new Map<string, Place2>();
  /** Belts that did not move in the last step. */
  private readonly standing = new Set<string>();
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
    poses: ReadonlyMap<string, Place2>,
    frictionScale = 1,
  ) {
    const RAPIER = engine();
    const { gravity } = mechanism;
    const g = gravity.on ? gravity.magnitude : 0;
    this.gravity = [g * Math.cos(gravity.angle), g * Math.sin(gravity.angle)];
    this.world = new RAPIER.World({ x: this.gravity[0], y: this.gravity[1] });
    this.world.timestep = step;
    this.contacts = new ContactReader(this.world, step);
    this.world.numSolverIterations = ROUNDS;
    this.kindPieces = new Map(
      loose.kinds.map((kind) => {
        const pieces = named(`The part “${kind.name}”`, () => partPieces(kind));
        if (!(partArea(kind).area > LEAST_AREA))
          throw new ContactError(`The part “${kind.name}” has no area: move its corners apart.`);
        return [kind.id, { pieces, mass: partMass(kind), size: reachOf(pieces) }];
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
    this.bodyIds = new Set(mechanism.bodies.map(({ id }) => id));
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
      const body = this.world.createRigidBody(RAPIER.RigidBodyDesc.kinematicPositionBased());
      const colliders = this.addColliders(body, stripPieces([belt.from, belt.to], belt.thickness), belt.material);
      this.carriers.set(carrierId.belt(belt.id), { body, colliders, size: Infinity });
    }
    for (const platform of loose.platforms) this.addPlatform(platform);
    this.grips = new Grips({
      world: this.world,
      contacts: this.contacts,
      grippers: loose.grippers,
      gravity: this.gravity,
      step,
      parts: this.parts,
      bodyOf: (part) => this.bodies.get(part)!,
      carrierOf: (body) => this.carriers.get(carrierId.body(body))!.body,
    });
  }

  /** Acceleration of gravity, m/s². */
  readonly gravity: Point2;

  private addColliders(body: RigidBody, pieces: readonly RoundShape[], material: string): Collider[] {
    const RAPIER = engine();
    const group = this.groups.get(material);
    if (!group) return [];
    return pieces.flatMap(colliderShapes).flatMap((make) =>
      group.faces.map(({ filter, friction, restitution }) => {
        const desc = make()
          .setDensity(0)
          .setFriction(friction)
          .setRestitution(restitution)
          .setFrictionCombineRule(RAPIER.CoefficientCombineRule.Max)
          .setRestitutionCombineRule(RAPIER.CoefficientCombineRule.Max)
          .setCollisionGroups(((group.membership << 16) | filter) >>> 0);
        return this.world.createCollider(desc, body);
      }),
    );
  }

  /** Adds pieces to a body of the mechanism, or to the ground. */
  private carry(id: string, poses: ReadonlyMap<string, Place2>, pieces: readonly RoundShape[], material: string): void {
    const RAPIER = engine();
    const key = carrierId.body(id);
    let carrier = this.carriers.get(key);
    if (!carrier) {
      const pose = poses.get(id);
      const desc = id === GROUND ? RAPIER.RigidBodyDesc.fixed() : RAPIER.RigidBodyDesc.kinematicPositionBased();
      if (pose) desc.setTranslation(pose.x, pose.y).setRotation(pose.angle);
      carrier = { body: this.world.createRigidBody(desc), colliders: [], size: 0 };
      this.carriers.set(key, carrier);
    }
    carrier.colliders.push(...this.addColliders(carrier.body, pieces, material));
    carrier.size = Math.max(carrier.size, reachOf(pieces));
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
    this.addColliders(body, stripPieces(line, platform.thickness), platform.material);
    const origin = { x: 0, y: 0 };
    const axis = { x: Math.cos(platform.angle), y: Math.sin(platform.angle) };
    const data = RAPIER.JointData.prismatic(origin, origin, axis);
    data.limitsEnabled = true;
    data.limits = [0, platform.travel];
    const joint = this.world.createImpulseJoint(data, base, body, true) as PrismaticImpulseJoint;
    joint.configureMotorModel(RAPIER.MotorModel.ForceBased);
    joint.configureMotorPosition(-platform.preload / platform.rate, platform.rate, platform.damping);
    this.platforms.set(platform.id, { body, at: [x, y] });
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
    const body = this.world.createRigidBody(
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
    const colliders = this.addColliders(body, made.pieces, drawn.material);
    for (const { handle } of colliders) this.partOf.set(handle, part);
    this.bodies.set(part, { body, colliders, size: made.size });
    return part;
  }

  /** Takes a part out of the world. */
  remove(part: LoosePart): void {
    const body = this.bodies.get(part);
    if (!body) return;
    if (part.heldBy !== null) this.grips.drop(part.heldBy);
    for (const { handle } of body.colliders) this.partOf.delete(handle);
    this.world.removeRigidBody(body.body);
    this.bodies.delete(part);
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
  advance(poses: ReadonlyMap<string, Place2>, beltSpeed: (belt: string) => number): void {
    for (const [id, pose] of poses) {
      const carrier = this.carriers.get(carrierId.body(id));
      // What was led to a pose has come to it: led there again it would only be kept awake.
      if (!carrier || this.led.get(id) === pose) continue;
      this.led.set(id, pose);
      carrier.body.setNextKinematicTranslation({ x: pose.x, y: pose.y });
      carrier.body.setNextKinematicRotation(pose.angle);
    }
    for (const belt of this.loose.belts) {
      const { body } = this.carriers.get(carrierId.belt(belt.id))!;
      const way = beltSpeed(belt.id) * this.step;
      // One that stands is left alone, so that what lies on it may come to rest.
      if (way === 0 && this.standing.has(belt.id)) continue;
      if (way === 0) this.standing.add(belt.id);
      else this.standing.delete(belt.id);
      const length = Math.hypot(belt.to[0] - belt.from[0], belt.to[1] - belt.from[1]);
      // A belt is a body that is led on and put back each step: its surface moves, its place does not.
      body.setTranslation({ x: 0, y: 0 }, false);
      body.setNextKinematicTranslation({
        x: (way * (belt.to[0] - belt.from[0])) / length,
        y: (way * (belt.to[1] - belt.from[1])) / length,
      });
    }
    this.grips.before();
    inLibrary(this.steps++ * this.step, () => stepWorld(this.world));
    for (const part of this.parts) {
      part.before = part.now;
      const { body } = this.bodies.get(part)!;
      if (body.isSleeping()) continue;
      const { x, y } = body.translation();
      // The library gives angles in (−π, π]: they are counted on.
      const turned = body.rotation() - part.before.angle;
      part.now = { x, y, angle: part.before.angle + turned - 2 * Math.PI * Math.round(turned / (2 * Math.PI)) };
    }
    this.grips.after();
  }

  /** What parts do to a body of the mechanism, on the mean of the last step. */
  pushOn(bodyId: string): BodyPush {
    const carrier = this.carriers.get(carrierId.body(bodyId));
    const touching = { fx: 0, fy: 0, moment: 0 };
    const held = { fx: 0, fy: 0, moment: 0 };
    const weight = { fx: 0, fy: 0, moment: 0 };
    const parts = new Set<LoosePart>();
    if (carrier && this.isNearPart(bodyId, carrier.size))
      addPush(
        touching,
        this.contacts.on(carrier.colliders, (handle) => {
          const part = this.partOf.get(handle);
          if (part) parts.add(part);
        }),
      );
    for (const { part, push: own } of this.grips.on(bodyId)) {
      parts.add(part);
      addPush(held, { fx: -own.fx, fy: -own.fy, moment: -own.moment });
      const { mass } = part.mass;
      addPush(weight, forceAt(centreOf(part), [mass * this.gravity[0], mass * this.gravity[1]]));
    }
    const carried = [...parts].map((part) => ({ ...part.mass, at: centreOf(part) }));
    return { touching, held, weight, parts: carried };
  }

  /** Whether some part is so near a body that they may touch; platforms may do so too. */
  private isNearPart(bodyId: string, size: number): boolean {
    const pose = this.led.get(bodyId);
    if (!pose || this.platforms.size > 0) return true;
    const slack = this.world.lengthUnit;
    return this.parts.some(({ now, size: own }) => Math.hypot(now.x - pose.x, now.y - pose.y) < size + own + slack);
  }

  /** Force along its way that parts hold a belt back (negative) or drive it with, N. */
  pushOnBelt(id: string): number {
    const { from, to } = this.loose.belts.find((b) => b.id === id)!;
    const { fx, fy } = this.contacts.on(this.carriers.get(carrierId.belt(id))!.colliders);
    const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
    return (fx * (to[0] - from[0]) + fy * (to[1] - from[1])) / length;
  }

  /** Bodies of the mechanism that parts can push. */
  get pushable(): string[] {
    return [...this.bodyIds].filter((id) => this.carriers.has(carrierId.body(id)));
  }

  /** Frees the memory of the library. */
  free(): void {
    this.world.free();
  }
}
