import type {
  Collider,
  ColliderDesc,
  ImpulseJoint,
  PrismaticImpulseJoint,
  RigidBody,
  World,
} from '@dimforge/rapier2d-compat';
import { placed, shapeDistance, type Place2, type Point2, type RoundShape } from '../geometry';
import { GROUND, type Gripper, type Loose, type Mechanism } from '../machine';
import type { MassProperties } from '../mechanism';
import { ContactError, engine, inLibrary, named } from './engine';
import { pairOf } from './pairs';
import { bodyPieces, partArea, partMass, partPieces, stripPieces } from './shapes';

/** A loose part in a run. */
export interface LoosePart {
  /** Counts from 0 in the order of release. */
  number: number;
  kind: string;
  source: string;
  /** Gripper that holds it, or null. */
  heldBy: string | null;
  /** Pose of its frame at the start and at the end of the last step. */
  before: Place2;
  now: Place2;
  /** Convex pieces in its frame, for sensors. */
  pieces: readonly RoundShape[];
  mass: MassProperties;
  /** Largest distance of its outline from its frame, m. */
  size: number;
}

/** What parts did to a carrier in one step: mean force (N), and its moment (N·m) about the origin of the world. */
export interface Push {
  fx: number;
  fy: number;
  moment: number;
}

/** A part lost by a gripper because the force was too large. */
export interface Lost {
  gripper: string;
  part: number;
  force: number;
}

interface Held {
  part: LoosePart;
  joint: ImpulseJoint;
  gripper: Gripper;
}

interface Body {
  body: RigidBody;
  colliders: Collider[];
}

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
  /** Parts that a gripper let go of in the last step because it could not hold them. */
  readonly lost: Lost[] = [];
  private readonly world: World;
  private readonly carriers = new Map<string, Body>();
  private readonly bodies = new Map<LoosePart, Body>();
  private readonly held = new Map<string, Held>();
  private readonly closed = new Set<string>();
  private readonly platforms = new Map<string, { body: RigidBody; at: Point2 }>();
  private readonly speeds: Map<string, Point2> = new Map();
  private readonly groups: Map<
    string,
    { membership: number; faces: { filter: number; friction: number; restitution: number }[] }
  >;
  private readonly kindPieces: Map<string, { pieces: RoundShape[]; mass: MassProperties; size: number }>;
  private readonly bodyIds: ReadonlySet<string>;
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
    this.world.numSolverIterations = ROUNDS;
    this.groups = this.contactGroups(frictionScale);
    this.kindPieces = new Map(
      loose.kinds.map((kind) => {
        const pieces = named(`The part “${kind.name}”`, () => partPieces(kind));
        if (!(partArea(kind).area > LEAST_AREA))
          throw new ContactError(`The part “${kind.name}” has no area: move its corners apart.`);
        const size = Math.max(
          ...pieces.flatMap(({ corners, radius }) => corners.map(([x, y]) => Math.hypot(x, y) + radius)),
        );
        return [kind.id, { pieces, mass: partMass(kind), size }];
      }),
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
      this.carriers.set(carrierId.belt(belt.id), { body, colliders });
    }
    for (const platform of loose.platforms) this.addPlatform(platform);
  }

  /** Acceleration of gravity, m/s². */
  readonly gravity: Point2;

  /**
   * Every pair of materials has its own coefficients, but colliders carry one value each: so a part has one set of colliders
   * for each different value, which meets only those materials that have this value with its own.
   */
  private contactGroups(scale: number) {
    const { materials, kinds, surfaces, belts, platforms, solids } = this.loose;
    const ofParts = new Set(kinds.map(({ material }) => material));
    const ofOthers = new Set([...surfaces, ...belts, ...platforms, ...solids].map(({ material }) => material));
    const result: typeof this.groups = new Map();
    materials.forEach(({ id }, i) => {
      const faces = new Map<string, { filter: number; friction: number; restitution: number }>();
      materials.forEach((other, j) => {
        // What is led meets only parts; a material that nothing has needs no face.
        if (!(ofParts.has(other.id) || (ofParts.has(id) && ofOthers.has(other.id)))) return;
        const { friction, restitution } = pairOf(this.loose, id, other.id);
        const key = `${friction} ${restitution}`;
        const face = faces.get(key) ?? { filter: 0, friction: friction * scale, restitution };
        face.filter |= 1 << j;
        faces.set(key, face);
      });
      result.set(id, { membership: 1 << i, faces: [...faces.values()] });
    });
    return result;
  }

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
          .setFrictionCombineRule(RAPIER.CoefficientCombineRule.Min)
          .setRestitutionCombineRule(RAPIER.CoefficientCombineRule.Min)
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
      carrier = { body: this.world.createRigidBody(desc), colliders: [] };
      this.carriers.set(key, carrier);
    }
    carrier.colliders.push(...this.addColliders(carrier.body, pieces, material));
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
    this.bodies.set(part, { body, colliders: this.addColliders(body, made.pieces, drawn.material) });
    return part;
  }

  /** Takes a part out of the world. */
  remove(part: LoosePart): void {
    const body = this.bodies.get(part);
    if (!body) return;
    if (part.heldBy !== null) this.drop(part.heldBy);
    this.world.removeRigidBody(body.body);
    this.bodies.delete(part);
    this.parts.splice(this.parts.indexOf(part), 1);
  }

  velocityOf(part: LoosePart): Point2 {
    const v = this.bodies.get(part)!.body.linvel();
    return [v.x, v.y];
  }

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
    const gripper = this.loose.grippers.find((g) => g.id === id)!;
    const at = this.gripperPoint(gripper);
    let best: { part: LoosePart; distance: number } | null = null;
    for (const part of this.parts) {
      if (part.heldBy === id || (gripper.kinds.length > 0 && !gripper.kinds.includes(part.kind))) continue;
      const distance = Math.min(
        ...part.pieces.map((piece) => shapeDistance({ corners: [at], radius: 0 }, placed(piece, part.now))),
      );
      if (!best || distance < best.distance) best = { part, distance };
    }
    return best;
  }

  private gripperPoint({ body, at }: Gripper): Point2 {
    const carrier = this.carriers.get(carrierId.body(body))!.body;
    const { x, y } = carrier.translation();
    return placed({ corners: [at], radius: 0 }, { x, y, angle: carrier.rotation() }).corners[0]!;
  }

  private tryTake(id: string): LoosePart | null {
    const holding = this.holding(id);
    if (holding) return holding;
    const gripper = this.loose.grippers.find((g) => g.id === id)!;
    const found = this.nearest(id);
    if (!found || found.distance > gripper.reach) return null;
    const { part } = found;
    if (part.heldBy !== null) this.drop(part.heldBy);
    const RAPIER = engine();
    const carrier = this.carriers.get(carrierId.body(gripper.body))!.body;
    const body = this.bodies.get(part)!.body;
    const turn = body.rotation() - carrier.rotation();
    const [c, s] = [Math.cos(-carrier.rotation()), Math.sin(-carrier.rotation())];
    const dx = body.translation().x - carrier.translation().x;
    const dy = body.translation().y - carrier.translation().y;
    const data = RAPIER.JointData.fixed({ x: c * dx - s * dy, y: s * dx + c * dy }, turn, { x: 0, y: 0 }, 0);
    const joint = this.world.createImpulseJoint(data, carrier, body, true);
    joint.setContactsEnabled(false);
    part.heldBy = id;
    this.held.set(id, { part, joint, gripper });
    return part;
  }

  private drop(id: string): LoosePart | null {
    const held = this.held.get(id);
    if (!held) return null;
    this.world.removeImpulseJoint(held.joint, true);
    held.part.heldBy = null;
    this.held.delete(id);
    return held.part;
  }

  /**
   * Moves everything on by one step.
   * @param poses where the bodies of the mechanism are at its end
   * @param beltSpeed mean speed of a belt during the step, m/s
   */
  advance(poses: ReadonlyMap<string, Place2>, beltSpeed: (belt: string) => number): void {
    this.lost.length = 0;
    for (const [id, pose] of poses) {
      const carrier = this.carriers.get(carrierId.body(id));
      if (!carrier) continue;
      carrier.body.setNextKinematicTranslation({ x: pose.x, y: pose.y });
      carrier.body.setNextKinematicRotation(pose.angle);
    }
    for (const belt of this.loose.belts) {
      const { body } = this.carriers.get(carrierId.belt(belt.id))!;
      const way = beltSpeed(belt.id) * this.step;
      const length = Math.hypot(belt.to[0] - belt.from[0], belt.to[1] - belt.from[1]);
      // A belt is a body that is led on and put back each step: its surface moves, its place does not.
      body.setTranslation({ x: 0, y: 0 }, false);
      body.setNextKinematicTranslation({
        x: (way * (belt.to[0] - belt.from[0])) / length,
        y: (way * (belt.to[1] - belt.from[1])) / length,
      });
    }
    for (const [id, { part }] of this.held) this.speeds.set(id, this.velocityOf(part));
    inLibrary(this.steps++ * this.step, () => this.world.step());
    for (const part of this.parts) {
      part.before = part.now;
      const { body } = this.bodies.get(part)!;
      if (body.isSleeping()) continue;
      const { x, y } = body.translation();
      // The library gives angles in (−π, π]: they are counted on.
      const turned = body.rotation() - part.before.angle;
      part.now = { x, y, angle: part.before.angle + turned - 2 * Math.PI * Math.round(turned / (2 * Math.PI)) };
    }
    this.watchGrippers();
    for (const id of this.closed) this.tryTake(id);
  }

  /** Force that each gripper gives its part, on the mean of the last step, N; a part that asks for more is lost. */
  private watchGrippers(): void {
    this.gripForces.clear();
    for (const [id, { part, gripper }] of [...this.held]) {
      const before = this.speeds.get(id)!;
      const after = this.velocityOf(part);
      const touch = this.contactOn(this.bodies.get(part)!);
      const { mass } = part.mass;
      const fx = mass * ((after[0] - before[0]) / this.step - this.gravity[0]) - touch.fx;
      const fy = mass * ((after[1] - before[1]) / this.step - this.gravity[1]) - touch.fy;
      const force = Math.hypot(fx, fy);
      if (force > gripper.force) {
        this.drop(id);
        this.closed.delete(id);
        this.lost.push({ gripper: id, part: part.number, force });
        continue;
      }
      this.gripForces.set(id, [fx, fy]);
    }
  }

  private readonly gripForces = new Map<string, Point2>();

  /** What parts push a body of the mechanism with, on the mean of the last step; held parts included. */
  pushOn(bodyId: string): Push {
    const carrier = this.carriers.get(carrierId.body(bodyId));
    const push = carrier ? this.contactOn(carrier) : { fx: 0, fy: 0, moment: 0 };
    for (const [id, [fx, fy]] of this.gripForces) {
      const held = this.held.get(id);
      if (held?.gripper.body !== bodyId) continue;
      const [x, y] = this.gripperPoint(held.gripper);
      push.fx -= fx;
      push.fy -= fy;
      push.moment -= x * fy - y * fx;
    }
    return push;
  }

  /** Force along its way that parts hold a belt back (negative) or drive it with, N. */
  pushOnBelt(id: string): number {
    const { from, to } = this.loose.belts.find((b) => b.id === id)!;
    const { fx, fy } = this.contactOn(this.carriers.get(carrierId.belt(id))!);
    const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
    return (fx * (to[0] - from[0]) + fy * (to[1] - from[1])) / length;
  }

  /** Bodies of the mechanism that parts can push. */
  get pushable(): string[] {
    return [...this.bodyIds].filter((id) => this.carriers.has(carrierId.body(id)));
  }

  /** Sum of all contact impulses on a body in the last step, as a mean force. */
  private contactOn({ colliders }: Body): Push {
    const push = { fx: 0, fy: 0, moment: 0 };
    const { world, normal, local } = this;
    for (const own of colliders) {
      const place = own.translation();
      const [c, s] = [Math.cos(own.rotation()), Math.sin(own.rotation())];
      world.contactPairsWith(own, (other) => {
        world.contactPair(own, other, (manifold, flipped) => {
          const sign = (flipped ? 1 : -1) / this.step;
          let read = false;
          for (let i = manifold.numContacts() - 1; i >= 0; i--) {
            const along = manifold.contactImpulse(i);
            const across = manifold.contactTangentImpulse(i);
            if (along === 0 && across === 0) continue;
            if (!read) manifold.normal(normal);
            read = true;
            const found = flipped ? manifold.localContactPoint2(i, local) : manifold.localContactPoint1(i, local);
            if (!found) continue;
            const jx = sign * (along * normal.x - across * normal.y);
            const jy = sign * (along * normal.y + across * normal.x);
            const px = place.x + c * local.x - s * local.y;
            const py = place.y + s * local.x + c * local.y;
            push.fx += jx;
            push.fy += jy;
            push.moment += px * jy - py * jx;
          }
        });
      });
    }
    return push;
  }

  private readonly normal = { x: 0, y: 0 };
  private readonly local = { x: 0, y: 0 };

  /** Frees the memory of the library. */
  free(): void {
    this.world.free();
  }
}

/** Least angle at a corner of a polygon that the library accepts, as a sine; sharper ones are cut into triangles. */
const SHARPEST = 0.03;

/** How the library is told of a piece; very sharp polygons as triangles, which it takes in any form. */
function colliderShapes({ corners, radius }: RoundShape): (() => ColliderDesc)[] {
  const { ColliderDesc: C } = engine();
  const [first, second] = corners;
  if (!first) return [];
  if (!second) return [() => C.ball(radius).setTranslation(first[0], first[1])];
  if (corners.length === 2) {
    const half = Math.hypot(second[0] - first[0], second[1] - first[1]) / 2;
    return [
      () =>
        C.capsule(half, radius)
          .setTranslation((first[0] + second[0]) / 2, (first[1] + second[1]) / 2)
          .setRotation(Math.atan2(second[1] - first[1], second[0] - first[0]) - Math.PI / 2),
    ];
  }
  const flat = Float32Array.from(corners.flat());
  const vector = ([x, y]: Point2) => ({ x, y });
  if (radius > 0) return [() => C.roundConvexHull(flat, radius)!];
  if (corners.length > 3 && sharpest(corners) > SHARPEST) return [() => C.convexPolyline(flat)!];
  return corners.slice(2).map((corner, i) => () => C.triangle(vector(first), vector(corners[i + 1]!), vector(corner)));
}

function sharpest(corners: readonly Point2[]): number {
  return Math.min(
    ...corners.map(([x, y], i) => {
      const [ax, ay] = corners[(i + corners.length - 1) % corners.length]!;
      const [bx, by] = corners[(i + 1) % corners.length]!;
      const cross = (x - ax) * (by - y) - (y - ay) * (bx - x);
      return Math.abs(cross) / (Math.hypot(x - ax, y - ay) * Math.hypot(bx - x, by - y));
    }),
  );
}
