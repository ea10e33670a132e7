import { freeId, newAxis } from './defaults';
import { groundPoint, localOf, worldOf, type At } from './draw';
import { GROUND, mapPath, turns, type Joint, type Mechanism, type MechanismPath, type Place } from './mechanism';
import { mirrorBody, mirrorCoupling, mirrorElement, mirrorJoint, mirrorPath, mirrorPlane } from './mirror';
import { dropEntry, ownerOf, referencesIn, type Reference } from './references';
import { dropFromClearances } from './clearances';
import { releaseSolids } from './edit-solids';
import { planeFrame } from './standing';
import { cycleTime, machineParts, type Axis, type Machine } from './schema';

/** A deep copy of plain data; unlike a structured clone it also copies what is being edited through a proxy. */
export const plainCopy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

/** Bodies that a joint ties together, the ground included. */
export function bodiesOf(mechanism: Mechanism, joint: Joint): [a: string, b: string] {
  const a = 'a' in joint ? joint.a.body : (mechanism.paths.find(({ id }) => id === joint.path)?.body ?? GROUND);
  return [a, joint.b.body];
}

/**
 * Everything that goes when things are deleted: they themselves, and what cannot be without them.
 * @returns identifiers of bodies, paths, joints, couplings, elements, and axes that lose their joint
 */
export function goesWith(machine: Machine, ids: Iterable<string>): Set<string> {
  const gone = new Set(ids);
  const { ground } = machine.mechanism;
  // What is tied to a point of the ground hangs on the plane of that; the points themselves go without being asked.
  const hanging = referencesIn(machineParts, machine)
    .filter(({ whenGone, path }) => whenGone === 'goes' && path[1] !== 'ground')
    .map(({ id, place, path }) => ({
      on: id === GROUND && place ? ground.find((point) => point.id === place.point)?.plane : id,
      own: ownerOf(machine, path).id!,
    }));
  for (let before = -1; gone.size !== before;) {
    before = gone.size;
    for (const { on, own } of hanging) if (on !== undefined && gone.has(on)) gone.add(own);
  }
  return gone;
}

/**
 * Names of sensors, cues, loose parts, leads and axes that go by some things and do not go with them when they are
 * deleted: they must be changed first.
 */
export function stillUsedBy(machine: Machine, ids: Iterable<string>): string[] {
  const gone = goesWith(machine, ids);
  const users = referencesIn(machineParts, machine)
    .filter(({ whenGone, id }) => whenGone === 'stands' && gone.has(id))
    .map(({ path }) => ownerOf(machine, path))
    .filter(({ id }) => id === undefined || !gone.has(id));
  return [...new Set(users.map(({ name }) => name ?? 'a body that parts meet'))];
}

/** Deletes things with all that goes with them; axes lose their joint's drive and go too. Ground points no one uses go as well. */
export function deleteThings(machine: Machine, ids: Iterable<string>): void {
  const gone = goesWith(machine, ids);
  const kept = <T extends { id: string }>(list: T[]) => list.filter(({ id }) => !gone.has(id));
  // Pairs and groups first: they go as a whole.
  dropFromClearances(machine, gone);
  const dropped = referencesIn(machineParts, machine).filter(
    ({ whenGone, id }) => whenGone === 'drops' && gone.has(id),
  );
  // From the last entry of each list on, so that the others stay where they are.
  for (const { path } of dropped.reverse()) dropEntry(machine, path);
  const m = machine.mechanism;
  releaseSolids(m, gone);
  m.planes = kept(m.planes);
  m.ground = m.ground.filter(({ plane }) => !gone.has(plane));
  m.bodies = kept(m.bodies);
  m.paths = kept(m.paths);
  m.joints = kept(m.joints);
  m.couplings = kept(m.couplings);
  m.elements = kept(m.elements);
  machine.axes = kept(machine.axes);
  dropIdleGround(machine);
}

/** Takes away points of the ground that nothing goes by. */
export function dropIdleGround(machine: Machine): void {
  const used = new Set(
    referencesIn(machineParts, machine).flatMap(({ place }) => (place?.body === GROUND ? [place.point] : [])),
  );
  const { mechanism } = machine;
  mechanism.ground = mechanism.ground.filter(({ id }) => used.has(id));
}

/** All bodies that hang together with one, through joints and couplings but not through the ground. */
export function unitOf(m: Mechanism, body: string): Set<string> {
  const unit = new Set([body]);
  let before = 0;
  const joined = (ids: string[]) => {
    if (ids.some((id) => unit.has(id))) for (const id of ids) if (id !== GROUND) unit.add(id);
  };
  while (unit.size !== before) {
    before = unit.size;
    for (const joint of m.joints) joined(bodiesOf(m, joint));
    for (const { first, second } of m.couplings) {
      const both = [first, second].flatMap((id) => {
        const joint = m.joints.find((j) => j.id === id);
        return joint ? bodiesOf(m, joint) : [];
      });
      joined(both);
    }
    for (const element of m.elements) if ('a' in element) joined([element.a.body, element.b.body]);
    for (const id of ridersOf(m, unit)) unit.add(id);
  }
  return unit;
}

/** Bodies of planes that ride on some bodies, and of planes that ride on those. */
export function ridersOf(m: Pick<Mechanism, 'planes' | 'bodies'>, bodies: Iterable<string>): Set<string> {
  const carriers = new Set(bodies);
  const riders = new Set<string>();
  for (let before = -1; before !== riders.size;) {
    before = riders.size;
    const planes = new Set(m.planes.flatMap(({ id, on }) => (carriers.has(on) ? [id] : [])));
    for (const { id, plane } of m.bodies)
      if (planes.has(plane)) {
        riders.add(id);
        carriers.add(id);
      }
  }
  return riders;
}

/** What a copy may differ in. */
export interface CopyOptions {
  /** How far the copy stands from the original, m. */
  shift: At;
  /** Added to the position of every copied drive, rad or m: half a turn behind is −π. */
  phase: number;
  /** Turned round across a line along y through this x, m; drives keep their motions, as seen in a mirror. */
  mirror?: number | undefined;
  /** Plane in which the copy is drawn; that of the original where nothing is said. */
  plane?: string | undefined;
}

/** Shifts where an axis begins by a position, whatever tells it how to move. */
export function shiftAxis(axis: Axis, by: number): void {
  const { motion, plan } = axis;
  if (motion.level !== 'position') {
    motion.initial.position += by;
    return;
  }
  if (motion.source.kind === 'constant') motion.source.value += by;
  if (motion.source.kind === 'harmonic') motion.source.mean += by;
  plan.start += by;
  for (const segment of plan.segments) if (segment.kind === 'move') segment.to += by;
  if (axis.travel) {
    axis.travel.min += by;
    axis.travel.max += by;
  }
  axis.home += by;
}

/**
 * Copies bodies with everything that belongs to them: joints among them and to the ground, paths, couplings,
 * elements, traces, and the axes that drive them.
 * @returns identifiers of the new bodies
 */
export function copyBodies(
  machine: Machine,
  chosen: ReadonlySet<string>,
  { shift, phase, mirror, plane: into }: CopyOptions,
): string[] {
  const m = machine.mechanism;
  const bodies = new Set([...chosen, ...ridersOf(m, chosen)]);
  const inside = (id: string) => bodies.has(id) || id === GROUND;
  const fresh = new Map<string, string>();
  const rename = (name: string, taken: readonly { name: string }[]) => {
    const base = name.replace(/ \d+$/, '').slice(0, 70);
    return freeId(`${base} `, taken.map((t) => t.name)); // prettier-ignore
  };
  const clone = <T extends { id: string; name: string }>(list: T[], item: T, prefix: string): T => {
    const copy = plainCopy(item);
    copy.id = freeId(prefix, list.map(({ id }) => id)); // prettier-ignore
    copy.name = rename(item.name, list);
    fresh.set(item.id, copy.id);
    list.push(copy);
    copies.add(copy);
    return copy;
  };
  const named = new Map<object, Reference[]>();
  for (const reference of referencesIn(machineParts, machine)) {
    const owner = ownerOf(machine, reference.path);
    named.set(owner, [...(named.get(owner) ?? []), reference]);
  }
  /** Whether all that a thing stands on is copied or is the ground, and something of it is copied. */
  const belongs = (thing: object) => {
    // What the strength of a load goes by may be another unit's.
    const on = (named.get(thing) ?? []).filter(({ path }) => !path.includes('course'));
    const copied = ({ id }: Reference) => bodies.has(id) || fresh.has(id);
    return (
      on.every((reference) => reference.id === GROUND || reference.to === 'plane' || copied(reference)) &&
      on.some(copied)
    );
  };
  const place = (p: Place): Place => {
    if (p.body !== GROUND) return { body: fresh.get(p.body)!, point: p.point };
    const { plane, height = 0 } = m.ground.find(({ id }) => id === p.point)!;
    const [x, y] = worldOf(m, p);
    // A plane that is copied takes its points along, turned round as it is.
    const copy = fresh.get(plane);
    return copy === undefined
      ? groundPoint(m, moved([x, y]), into ?? plane, height)
      : groundPoint(m, mirror === undefined ? [x, y] : [-x, y], copy, height);
  };
  const moved = ([x, y]: At): [number, number] => [
    (mirror === undefined ? x : 2 * mirror - x) + shift[0],
    y + shift[1],
  ];
  const copies = new Set<object>();
  for (const plane of m.planes.filter(({ on }) => bodies.has(on))) {
    const copy = clone(m.planes, plane, 'plane');
    if (mirror !== undefined) mirrorPlane(copy);
  }
  for (const body of m.bodies.filter(({ id }) => bodies.has(id))) {
    const copy = clone(m.bodies, body, 'body');
    const { x, y, angle } = body.pose;
    if (mirror !== undefined) mirrorBody(copy);
    if (!fresh.has(body.plane)) {
      const [px, py] = moved([x, y]);
      copy.pose = { x: px, y: py, angle };
      if (into !== undefined) copy.plane = into;
    } else if (mirror !== undefined) copy.pose.x = -x;
    if (mirror !== undefined) copy.pose.angle = -angle;
  }
  const carried = (path: { body: string; id: string }) =>
    bodies.has(path.body) ||
    (path.body === GROUND && m.joints.some((j) => 'path' in j && j.path === path.id && bodies.has(j.b.body)));
  for (const path of m.paths.filter(carried)) {
    const copy = clone(m.paths, path, 'path');
    const onCopy = path.body !== GROUND || fresh.has(path.plane!);
    if (mirror !== undefined) copy.shape = mirrorPath(copy.shape, onCopy ? 0 : mirror);
    if (onCopy) continue;
    copy.shape = shiftPath(copy.shape, shift);
    if (into !== undefined) copy.plane = into;
  }
  for (const joint of m.joints.filter(
    (j) => bodiesOf(m, j).every(inside) && bodiesOf(m, j).some((id) => bodies.has(id)),
  ))
    clone(m.joints, joint, 'joint');
  for (const coupling of m.couplings.filter(belongs)) clone(m.couplings, coupling, 'coupling');
  for (const element of m.elements.filter(belongs)) clone(m.elements, element, 'element');
  if (mirror !== undefined) mirrorTies(m, copies);
  for (const reference of referencesIn(machineParts, machine)) {
    if (!copies.has(ownerOf(machine, reference.path))) continue;
    if (reference.place) reference.set(place(reference.place));
    else reference.set(fresh.get(reference.id) ?? reference.id);
  }
  for (const trace of m.traces.filter(({ body }) => bodies.has(body))) m.traces.push(place(trace));
  for (const axis of machine.axes.filter(({ joint }) => joint !== null && fresh.has(joint))) {
    const blank = newAxis(axis.kind, machine.axes, cycleTime(machine));
    const copy: Axis = {
      ...plainCopy(axis),
      id: blank.id,
      colour: blank.colour,
      name: rename(axis.name, machine.axes),
      joint: fresh.get(axis.joint!)!,
    };
    // Seen in a mirror a pin turns the other way; its axis counts as it did.
    if (mirror !== undefined && axis.kind === 'rotary') copy.reversed = !copy.reversed;
    shiftAxis(copy, phase);
    machine.axes.push(copy);
  }
  return m.bodies.filter(({ id }) => [...bodies].some((b) => fresh.get(b) === id)).map(({ id }) => id);
}

/** Turns joints, couplings and elements round that were copied; before they name what they were copied with. */
function mirrorTies(m: Mechanism, copies: ReadonlySet<object>): void {
  const turnsIn = (id: string) => m.joints.some((joint) => joint.id === id && turns(joint));
  for (const joint of m.joints) if (copies.has(joint)) mirrorJoint(joint);
  for (const coupling of m.couplings) {
    if (!copies.has(coupling)) continue;
    const there = mirrorCoupling(coupling, turnsIn);
    // It stays the same object: what it names is put right later.
    if (there.kind !== coupling.kind && 'lead' in coupling) delete (coupling as Partial<typeof coupling>).lead;
    Object.assign(coupling, there);
  }
  for (const element of m.elements) {
    if (!copies.has(element)) continue;
    const body = 'at' in element ? element.at.body : '';
    const plane = m.bodies.find(({ id }) => id === body)?.plane ?? m.planes[0]!.id;
    mirrorElement(element, turnsIn, planeFrame(m, plane).axes);
  }
}

/** A path moved by a distance. */
export const shiftPath = <S extends MechanismPath['shape']>(shape: S, [dx, dy]: At): S =>
  mapPath(shape, ([x, y]) => [x + dx, y + dy]);

/** All points that are tied together in one place by pins and welds, the given one first. */
export function tiedPoints(m: Mechanism, place: Place): Place[] {
  const tied = [place];
  const same = (p: Place, q: Place) => p.body === q.body && p.point === q.point;
  for (const at of tied)
    for (const joint of m.joints) {
      if (joint.kind !== 'pin' && joint.kind !== 'weld') continue;
      for (const [here, there] of [
        [joint.a, joint.b],
        [joint.b, joint.a],
      ] as const)
        if (same(here, at) && !tied.some((p) => same(p, there))) tied.push(there);
    }
  return tied;
}

/**
 * Redraws a point: it goes to a place in the world, and so does every point that is pinned to it.
 * A bar whose frame runs from its first to its second point is laid anew, so that its length is where it is drawn.
 */
export function redrawPoint(m: Mechanism, place: Place, to: At): void {
  for (const { body: id, point } of tiedPoints(m, place)) {
    if (id === GROUND) {
      m.ground.find((p) => p.id === point)!.at = [...to];
      continue;
    }
    const body = m.bodies.find((b) => b.id === id)!;
    const before = new Map(body.points.map((p) => [p.id, worldOf(m, { body: id, point: p.id })]));
    before.set(point, [...to]);
    if (body.shape.kind === 'bar' && body.points.length >= 2) {
      const [first, second] = [before.get(body.points[0]!.id)!, before.get(body.points[1]!.id)!];
      if (Math.hypot(second[0] - first[0], second[1] - first[1]) < 1e-9) continue;
      const turned = Math.atan2(second[1] - first[1], second[0] - first[0]);
      const change = Math.atan2(Math.sin(turned - body.pose.angle), Math.cos(turned - body.pose.angle));
      body.pose = { x: first[0], y: first[1], angle: body.pose.angle + change };
      keepDirections(m, id, change);
    }
    for (const p of body.points) p.at = localOf(body, before.get(p.id)!);
  }
}

/** Rails, faces and held angles keep their direction in the world when a body's frame is turned. */
function keepDirections(m: Mechanism, body: string, change: number): void {
  for (const joint of m.joints) {
    const [a, b] = bodiesOf(m, joint);
    if (a !== body && b !== body) continue;
    const sign = b === body ? 1 : -1;
    if ((joint.kind === 'slide' || joint.kind === 'slot') && a === body) joint.angle -= change;
    if (joint.kind === 'slide' || joint.kind === 'weld') joint.turn += sign * change;
    if (joint.kind === 'pin') joint.zero += sign * change;
    if (joint.kind === 'cam' && joint.follower.kind === 'flat' && b === body) joint.follower.angle -= change;
  }
}

/** Moves whole bodies on the drawing, with the ground points that are pinned to them. */
export function moveBodies(m: Mechanism, bodies: ReadonlySet<string>, by: At): void {
  const grounds = new Set<string>();
  for (const joint of m.joints) {
    const [a, b] = bodiesOf(m, joint);
    if (a === GROUND && bodies.has(b) && 'a' in joint) grounds.add(joint.a.point);
    if (b === GROUND && bodies.has(a)) grounds.add(joint.b.point);
  }
  for (const body of m.bodies) {
    if (!bodies.has(body.id)) continue;
    body.pose.x += by[0];
    body.pose.y += by[1];
  }
  for (const point of m.ground) if (grounds.has(point.id)) point.at = [point.at[0] + by[0], point.at[1] + by[1]];
}

/** Sets the length of a bar: its second point moves along the bar, with what is pinned there. */
export function setBarLength(m: Mechanism, bodyId: string, length: number): void {
  const body = m.bodies.find(({ id }) => id === bodyId)!;
  const [first, second] = [
    worldOf(m, { body: bodyId, point: body.points[0]!.id }),
    worldOf(m, { body: bodyId, point: body.points[1]!.id }),
  ];
  const now = Math.hypot(second[0] - first[0], second[1] - first[1]);
  const to: At = [
    first[0] + ((second[0] - first[0]) * length) / now,
    first[1] + ((second[1] - first[1]) * length) / now,
  ];
  // Only this bar is laid anew; what is pinned to its end is drawn together when the mechanism is assembled.
  body.points[1]!.at = localOf(body, to);
}
