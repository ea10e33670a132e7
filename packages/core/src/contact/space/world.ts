import type { World } from '@dimforge/rapier3d-compat';
import {
  convexDistance,
  placeIn,
  carriedPoint,
  STILL3,
  turnedBy,
  type Place3,
  type Places,
  type Point3,
} from '../../geometry';
import { gravityOf, GROUND, type Loose, type Mechanism } from '../../machine';
import { contactGroups, type ContactGroups } from '../colliders';
import { ContactError, inLibrary, named } from '../engine';
import { addColliders, meshShape, pieceShape, type SpaceBody } from './colliders';
import { ContactForces, type Felt, type Owner } from './contact-forces';
import { spaceEngine } from './engine';
import { makePlatform, type PlatformFace } from './platforms';
import { Fingers } from './fingers';
import { BodyFrames, carriedBy, type Carried } from './frames';
import { SpaceGrips } from './grips';
import { bodyPieces } from './body-pieces';
import { partRests, spaceKind, type SpaceKind, type SpacePart } from './space-part';
import { beltInSpace, surfacePieces, type BeltInSpace } from './stations';
import { addForce, addWrench, noWrench, type SpacePush } from './wrench';

/** Rounds of the contact solver in a step; each is a part of the step of its own. */
const ROUNDS = 4;

interface BeltFace {
  made: BeltInSpace;
  carried: Carried;
  owner: Owner;
}
const vector = ([x, y, z]: Point3) => ({ x, y, z });
const quaternion = ({ qw, qx, qy, qz }: Place3) => ({ w: qw, x: qx, y: qy, z: qz });

/**
 * Loose parts and what they touch in space, moved on in steps of equal length by the physics library (Rapier). Bodies of
 * the mechanism and belts are led; what parts push them with is told after each step.
 */
export class SpaceWorld {
  readonly parts: SpacePart[] = [];
  readonly grips: SpaceGrips;
  readonly gravity: Point3;
  private readonly world: World;
  private readonly frames: BodyFrames;
  private readonly forces: ContactForces;
  private readonly kinds: ReadonlyMap<string, SpaceKind>;
  private readonly groups: ContactGroups;
  private readonly carriers = new Map<string, { owner: Owner; place: Place3 }>();
  private readonly owners = new Map<SpacePart, Owner>();
  private readonly belts = new Map<string, BeltFace>();
  private readonly platforms = new Map<string, PlatformFace>();
  private readonly fingers = new Map<string, Fingers>();
  private felt: Felt | null = null;
  private released = 0;
  private steps = 0;

  /**
   * @param step length of a step in s
   * @param poses start poses of the bodies of the mechanism in their planes, by identifier
   * @param frictionScale factor on all coefficients of friction (scatter between runs)
   */
  constructor(
    private readonly loose: Loose,
    private readonly mechanism: Mechanism,
    private readonly step: number,
    poses: Places,
    frictionScale = 1,
  ) {
    const RAPIER = spaceEngine();
    this.gravity = gravityOf(mechanism);
    this.world = new RAPIER.World(vector(this.gravity));
    this.world.timestep = step;
    this.world.numSolverIterations = ROUNDS;
    this.frames = new BodyFrames(mechanism);
    this.frames.take(poses);
    this.kinds = new Map(
      loose.kinds.map((kind) => {
        const made = named(`The part “${kind.name}”`, () => spaceKind(kind, loose));
        if (!(made.mass.mass > 0)) throw new ContactError(`The part “${kind.name}” holds nothing: give it a size and a density, or a mass.`); // prettier-ignore
        return [kind.id, made];
      }),
    );
    const sizes = [...this.kinds.values()].map(({ size }) => size);
    // Tolerances of the library are shares of a typical length.
    this.world.lengthUnit = sizes.length > 0 ? Math.max(0.005, Math.min(...sizes)) : 0.05;
    this.groups = contactGroups(loose, frictionScale, (material) =>
      loose.kinds.reduce((sum, { id, material: own }) => sum + (own === material ? this.kinds.get(id)!.pieces.length : 0), 0),
    );
    this.forces = new ContactForces(this.world, step, this.gravity, (part) => this.owners.get(part)!);
    for (const solid of loose.solids) {
      const drawn = mechanism.bodies.find(({ id }) => id === solid.body);
      const shapes = named(drawn ? `The body “${drawn.name}”` : 'The ground', () => bodyPieces(mechanism, solid.body, solid.as));
      this.carry({ body: solid.body, at: STILL3 }, shapes.pieces.map(pieceShape), solid.material);
      this.carry({ body: solid.body, at: STILL3 }, shapes.meshes.map(meshShape), solid.material);
    }
    for (const surface of loose.surfaces)
      this.carry(carriedBy(mechanism, surface), surfacePieces(surface).map(pieceShape), surface.material);
    for (const gripper of loose.grippers) {
      const carried = carriedBy(mechanism, gripper);
      this.carry(carried, [], '');
      if (!gripper.fingers) continue;
      const { owner, place } = this.carrier(carried.body);
      const heaviest = Math.max(0.01, ...[...this.kinds.values()].map(({ mass }) => mass.mass));
      const made = new Fingers(gripper, this.world, this.groups, owner, place, carried, heaviest);
      made.owners.forEach((finger) => this.forces.know(finger));
      this.fingers.set(gripper.id, made);
    }
    for (const belt of loose.belts) this.addBelt(belt);
    for (const platform of loose.platforms) this.addPlatform(platform);
    for (const { owner } of this.carriers.values()) this.forces.know(owner);
    this.grips = new SpaceGrips({
      world: this.world,
      grippers: loose.grippers,
      parts: this.parts,
      ownerOf: (part) => this.owners.get(part)!,
      carrierOf: (gripper) => this.carriers.get(carriedBy(mechanism, gripper).body)!.owner,
      fingers: this.fingers,
      frameOf: (gripper) => this.frames.of(carriedBy(mechanism, gripper).body),
      placeOf: (gripper) => this.frames.at(carriedBy(mechanism, gripper)),
    });
  } // prettier-ignore

  /** What carries something: a body of the mechanism, or the ground. */
  private carrier(id: string): { owner: Owner; place: Place3 } {
    const known = this.carriers.get(id);
    if (known) return known;
    const RAPIER = spaceEngine();
    const place = this.frames.of(id);
    const desc = id === GROUND ? RAPIER.RigidBodyDesc.fixed() : RAPIER.RigidBodyDesc.kinematicPositionBased();
    desc.setTranslation(place.x, place.y, place.z).setRotation(quaternion(place));
    const body: SpaceBody = { body: this.world.createRigidBody(desc), colliders: [] };
    const made = { owner: { body, part: null, felt: id !== GROUND }, place };
    this.carriers.set(id, made);
    return made;
  }

  /** Adds shapes to a body of the mechanism, or to the ground. */
  private carry({ body, at }: Carried, shapes: Parameters<typeof addColliders>[2], material: string): void {
    const { owner } = this.carrier(body);
    addColliders(this.world, owner.body, shapes, this.groups.get(material), at);
  }

  private addBelt(belt: Loose['belts'][number]): void {
    const RAPIER = spaceEngine();
    const made = beltInSpace(belt);
    const carried = carriedBy(this.mechanism, belt);
    if (made.guides.length > 0)
      this.carry({ body: carried.body, at: placeIn(carried.at, made.at) }, made.guides.map(pieceShape), belt.material);
    const face: Carried = { body: carried.body, at: placeIn(carried.at, made.at) };
    const place = this.frames.at(face);
    const desc = RAPIER.RigidBodyDesc.kinematicPositionBased()
      .setTranslation(place.x, place.y, place.z)
      .setRotation(quaternion(place));
    const body: SpaceBody = { body: this.world.createRigidBody(desc), colliders: [] };
    addColliders(this.world, body, made.face.map(pieceShape), this.groups.get(belt.material));
    const owner: Owner = { body, part: null, felt: belt.drive.by === 'axis' || carried.body !== GROUND };
    this.forces.know(owner);
    this.belts.set(belt.id, { made, carried: face, owner });
  }

  private addPlatform(platform: Loose['platforms'][number]): void {
    const base = carriedBy(this.mechanism, platform);
    const { owner, place } = this.carrier(base.body);
    const made = makePlatform(platform, this.world, this.groups, owner, place, base);
    this.forces.know(made.owner);
    this.platforms.set(platform.id, made);
  }

  /** How far a platform has given way, along x, y and z of the world, m. */
  platformShift(id: string): Point3 {
    const platform = this.platforms.get(id);
    if (!platform) return [0, 0, 0];
    const { x, y, z } = platform.owner.body.body.translation();
    const from = placeIn(this.frames.of(platform.base.body), platform.at);
    return [x - from.x, y - from.y, z - from.z];
  }

  /** How far both fingers of a gripper have closed, m. */
  fingersClosed(id: string): number[] {
    const fingers = this.fingers.get(id);
    return fingers ? fingers.closedBy(this.frames.of(carriedBy(this.mechanism, fingers.gripper).body)) : [];
  }

  /** Where something of the document stands now: a source, a sink, a sensor. */
  placeOf(thing: Parameters<typeof carriedBy>[1]): Place3 {
    return this.frames.at(carriedBy(this.mechanism, thing));
  }

  /** Whether a part of this kind at this place would overlap another part. */
  blocked(kind: string, place: Place3): boolean {
    const made = this.kinds.get(kind);
    if (!made) return false;
    // A little smaller, so that what lies side by side does not count.
    const shrunk = made.solids.map(({ corners, radius, disc }) => {
      const by = 1 - 1e-3;
      return { corners: corners.map((part) => by * part), radius: by * radius, ...(disc && { disc: { ...disc, radius: by * disc.radius } }) }; // prettier-ignore
    });
    return this.parts.some(
      ({ now, made: other }) =>
        Math.hypot(now.x - place.x, now.y - place.y, now.z - place.z) < other.size + made.size &&
        other.solids.some((solid) => shrunk.some((own) => convexDistance(own, place, solid, now, 1e-9) === 0)),
    );
  }

  /**
   * Releases a part.
   * @param ago how long before the end of the last step it was released, s: it has fallen since
   */
  release(source: string, kind: string, place: Place3, velocity: Point3, ago: number): SpacePart {
    const RAPIER = spaceEngine();
    const made = this.kinds.get(kind)!;
    const drawn = this.loose.kinds.find(({ id }) => id === kind)!;
    const g = this.gravity;
    const fallen = (k: 0 | 1 | 2, from: number) => from + velocity[k] * ago + (g[k] * ago * ago) / 2;
    const now: Place3 = { ...place, x: fallen(0, place.x), y: fallen(1, place.y), z: fallen(2, place.z) };
    // The library moves with the speed at the end of each round: half a round less at the start makes free flight exact.
    const round = ago - this.step / (2 * ROUNDS);
    const { principal, mass } = made;
    const rigid = this.world.createRigidBody(
      RAPIER.RigidBodyDesc.dynamic()
        .setTranslation(now.x, now.y, now.z)
        .setRotation(quaternion(now))
        .setLinvel(velocity[0] + g[0] * round, velocity[1] + g[1] * round, velocity[2] + g[2] * round)
        .setCcdEnabled(true)
        .setAdditionalMassProperties(mass.mass, vector(mass.centre), vector(principal.moments), principal.turn),
    );
    const part: SpacePart = { number: this.released++, kind, source, heldBy: null, before: place, now, made };
    const body: SpaceBody = { body: rigid, colliders: [] };
    addColliders(this.world, body, made.pieces.map(pieceShape), this.groups.get(drawn.material));
    const owner: Owner = { body, part, felt: false };
    this.parts.push(part);
    this.owners.set(part, owner);
    this.forces.know(owner);
    this.forces.note(part);
    return part;
  }

  /** Takes a part out of the world. */
  remove(part: SpacePart): void {
    const owner = this.owners.get(part);
    if (!owner) return;
    if (part.heldBy !== null) this.grips.drop(part.heldBy);
    this.forces.forget(owner);
    this.world.removeRigidBody(owner.body.body);
    this.owners.delete(part);
    this.parts.splice(this.parts.indexOf(part), 1);
  }

  /** Velocity of the centre of mass of a part, m/s. */
  velocityOf(part: SpacePart): Point3 {
    const v = this.owners.get(part)!.body.body.linvel();
    return [v.x, v.y, v.z];
  }

  /** Angular velocity of a part along the axes of the world, rad/s. */
  turningOf(part: SpacePart): Point3 {
    const w = this.owners.get(part)!.body.body.angvel();
    return [w.x, w.y, w.z];
  }

  /** Gives a part a turning, along the axes of the world, rad/s. */
  spin(part: SpacePart, turning: Point3): void {
    this.owners.get(part)!.body.body.setAngvel(vector(turning), true);
    this.forces.note(part);
  }

  /**
   * Moves everything on by one step.
   * @param poses where the bodies of the mechanism are in their planes at its end
   * @param beltSpeed mean speed of a belt during the step, m/s
   */
  advance(poses: Places, beltSpeed: (belt: string) => number): void {
    const { step } = this;
    const stood = new Map([...this.belts].map(([id, { carried }]) => [id, this.frames.at(carried)]));
    this.frames.take(poses);
    for (const [id, carrier] of this.carriers) {
      if (id === GROUND) continue;
      const place = this.frames.of(id);
      // What was led to a place has come to it: led there again it would only be kept awake.
      if (place === carrier.place) continue;
      const { body } = carrier.owner.body;
      body.setNextKinematicTranslation(place);
      body.setNextKinematicRotation(quaternion(place));
      carrier.place = place;
    }
    for (const [id, { made, carried, owner }] of this.belts) {
      const way = beltSpeed(id) * step;
      const stands = carried.body === GROUND;
      if (way === 0 && stands && this.rested.has(id)) continue;
      if (way === 0) this.rested.add(id);
      else this.rested.delete(id);
      // A belt is a body that is led on and put back each step: its surface moves, its place does not.
      const { body } = owner.body;
      const from = stood.get(id)!;
      body.setTranslation(from, false);
      body.setRotation(quaternion(from), false);
      const next = placeIn(this.frames.at(carried), made.after(way));
      body.setNextKinematicTranslation(next);
      body.setNextKinematicRotation(quaternion(next));
    }
    this.grips.lost.length = this.grips.slips.length = 0;
    inLibrary(this.steps++ * step, () => this.world.step());
    for (const part of this.parts) {
      const { body } = this.owners.get(part)!.body;
      part.before = part.now;
      if (body.isSleeping()) continue;
      const { x, y, z } = body.translation();
      const r = body.rotation();
      part.now = { x, y, z, qw: r.w, qx: r.x, qy: r.y, qz: r.z };
    }
    const seeds = [
      ...[...this.carriers.values()].map(({ owner }) => owner),
      ...[...this.belts.values()].map(({ owner }) => owner),
      ...[...this.fingers.values()].flatMap(({ owners }) => owners),
    ];
    const felt = this.forces.read(seeds.filter((owner) => owner.felt), this.grips.all()); // prettier-ignore
    this.felt = felt;
    for (const part of this.parts) if (!partRests(part)) this.forces.note(part);
    this.grips.after(felt);
  }
  private readonly rested = new Set<string>();

  /** What parts did to each body of the mechanism that they can push, on the mean of the last step. */
  pushes(): { body: string; push: SpacePush; parts: readonly SpacePart[] }[] {
    const { felt } = this;
    if (!felt) return [];
    return [...this.carriers].flatMap(([body, { owner }]) => {
      if (!owner.felt) return [];
      const touching = noWrench();
      addWrench(touching, felt.touching.get(owner) ?? noWrench());
      const held = noWrench();
      const weight = noWrench();
      const parts = new Set(felt.parts.get(owner));
      // What fingers feel their carrier feels.
      for (const fingers of this.fingers.values())
        if (fingers.carrier === owner)
          for (const finger of fingers.owners) {
            const own = felt.touching.get(finger);
            if (own) addWrench(touching, own);
          }
      for (const { id, part, carrier } of this.grips.all()) {
        const own = felt.grips.get(id);
        if (carrier !== owner || !own) continue;
        addWrench(held, own, -1);
        const { mass, centre } = part.made.mass;
        addForce(weight, carriedPoint(part.now, centre), this.gravity.map((g) => mass * g) as [number, number, number]);
        parts.add(part);
      }
      return [{ body, push: { touching, held, weight }, parts: [...parts] }];
    });
  }

  /** Force along its way that parts hold a belt back (negative) or drive it with, N. */
  pushOnBelt(id: string): number {
    const { made, carried, owner } = this.belts.get(id)!;
    const push = this.felt?.touching.get(owner);
    if (!push) return 0;
    const at = this.frames.at(carried);
    const { force, moment } = push;
    if (made.straight) {
      const way = turnedBy(at, made.straight);
      return way.reduce((sum, part, k) => sum + part * force[k]!, 0);
    }
    // About its axis: the moment about the middle of the arc, over the radius.
    const [x, y, z] = [at.x, at.y, at.z];
    const about: Point3 = [
      moment[0] - (y * force[2] - z * force[1]),
      moment[1] - (z * force[0] - x * force[2]),
      moment[2] - (x * force[1] - y * force[0]),
    ];
    const axis = turnedBy(at, [0, 0, 1]);
    return axis.reduce((sum, part, k) => sum + part * about[k]!, 0) / made.radius;
  }

  /** Frees the memory of the library. */
  free(): void {
    this.world.free();
  }
}
