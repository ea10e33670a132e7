import {
  convexHull,
  dot,
  axisOf,
  minus,
  plus,
  quaternionOf,
  rotationOf,
  timesRotation,
  turned,
  turnedBack,
  UNTURNED,
  type Point2,
  type Point3,
} from '../geometry';
import { freeId } from './defaults';
import { addPlate, firstPlane, freshName } from './draw';
import { GROUND, STEEL, type Body, type Mechanism } from './mechanism';
import type { GeometryFile, Shapes, BodySolid } from './solid';
import { standingOf, type Frame } from './standing';

/** Carrier of solids of which nobody said yet what they move with. */
export const UNASSIGNED = 'unassigned';

/** A solid, by what carries it: a body, “ground” or “unassigned”. */
export interface SolidRef {
  carrier: string;
  id: string;
}
export const sameSolid = (a: SolidRef, b: SolidRef): boolean => a.carrier === b.carrier && a.id === b.id;

const WORLD: Frame = { at: [0, 0, 0], axes: UNTURNED };

/** Solids that one carrier has. */
export function solidsOn(
  { shapes, bodies }: Pick<Mechanism, 'shapes' | 'bodies'>,
  carrier: string,
): readonly BodySolid[] {
  if (carrier === GROUND) return shapes?.ground ?? [];
  if (carrier === UNASSIGNED) return shapes?.unassigned ?? [];
  return bodies.find(({ id }) => id === carrier)?.solids ?? [];
}

/** Every solid of a mechanism with its carrier. */
export function allSolids(m: Pick<Mechanism, 'shapes' | 'bodies'>): { carrier: string; solid: BodySolid }[] {
  const carriers = [UNASSIGNED, GROUND, ...m.bodies.map(({ id }) => id)];
  return carriers.flatMap((carrier) => solidsOn(m, carrier).map((solid) => ({ carrier, solid })));
}

/** Whether a solid is of a file, and the name by which that has it. */
export const solidFile = ({ shape }: BodySolid): { file: string; key: string } | null =>
  shape.kind === 'file' ? { file: shape.file, key: shape.key } : null;

function shapesIn(m: Mechanism): Shapes {
  m.shapes ??= { files: [], ground: [], unassigned: [] };
  return m.shapes;
}
function listOf(m: Mechanism, carrier: string): BodySolid[] {
  if (carrier === GROUND) return shapesIn(m).ground;
  if (carrier === UNASSIGNED) return shapesIn(m).unassigned;
  const body = m.bodies.find(({ id }) => id === carrier)!;
  body.solids ??= [];
  return body.solids;
}
const frameOf = (m: Mechanism, carrier: string): Frame =>
  carrier === GROUND || carrier === UNASSIGNED ? WORLD : standingOf(m).body(carrier);

/** What stands in one frame, seen from another one. */
function seenFrom({ at, axes }: Frame, world: Frame): Pick<BodySolid, 'at' | 'turn'> {
  const back = [0, 3, 6, 1, 4, 7, 2, 5, 8].map((k) => axes[k]!);
  return {
    at: turnedBack(axes, minus(world.at, at)),
    turn: quaternionOf(timesRotation(back, world.axes)),
  };
}
const inWorld = ({ at, axes }: Frame, solid: Pick<BodySolid, 'at' | 'turn'>): Frame => ({
  at: plus(at, turned(axes, solid.at)),
  axes: timesRotation(axes, rotationOf(solid.turn)),
});

/** How a solid stands in the world as the machine is drawn: its own origin and axes. */
export const solidFrame = (m: Mechanism, { carrier }: Pick<SolidRef, 'carrier'>, solid: BodySolid): Frame =>
  inWorld(frameOf(m, carrier), solid);

/**
 * Turns a solid about an axis of its carrier.
 * @param angle rad
 * @param middle the place that stays, in its own frame, m
 */
export function turnSolid(solid: Pick<BodySolid, 'at' | 'turn'>, axis: 0 | 1 | 2, angle: number, middle: Point3): void {
  const before = rotationOf(solid.turn);
  const half = angle / 2;
  const about: [number, number, number, number] = [Math.cos(half), 0, 0, 0];
  about[axis + 1] = Math.sin(half);
  const after = timesRotation(rotationOf(about), before);
  solid.at = plus(plus(solid.at, turned(before, middle)), turned(after, middle), -1);
  solid.turn = quaternionOf(after);
}

/** Adds a solid to a carrier. */
export function addSolid(m: Mechanism, carrier: string, solid: Omit<BodySolid, 'id'>): SolidRef {
  const list = listOf(m, carrier);
  const id = freeId('s', list.map((own) => own.id)); // prettier-ignore
  list.push({ id, ...solid });
  if (carrier !== GROUND && carrier !== UNASSIGNED) takeMassOfSolids(m, carrier);
  return { carrier, id };
}

/** A body whose mass nobody typed goes by its solids once it has some. */
function takeMassOfSolids(m: Mechanism, id: string): void {
  const body = m.bodies.find((own) => own.id === id)!;
  if (body.mass.given === 'shape') body.mass = { given: 'solids' };
}
/** A body without solids cannot go by them. */
function settle(m: Mechanism): void {
  for (const body of m.bodies) {
    if (body.solids?.length !== 0) continue;
    delete body.solids;
    if (body.mass.given === 'solids') body.mass = { given: 'shape', density: STEEL };
  }
}

/**
 * Lets solids move with something else; they stay where they are in space.
 * @param to a body, “ground” or “unassigned”
 * @returns where they are found now
 */
export function assignSolids(m: Mechanism, refs: readonly SolidRef[], to: string): SolidRef[] {
  const found = refs.map(({ carrier, id }): SolidRef => {
    if (carrier === to) return { carrier, id };
    const from = listOf(m, carrier);
    const i = from.findIndex((own) => own.id === id);
    if (i < 0) return { carrier, id };
    const world = inWorld(frameOf(m, carrier), from[i]!);
    const [solid] = from.splice(i, 1);
    const { id: _, ...rest } = { ...solid!, ...seenFrom(frameOf(m, to), world) };
    return addSolid(m, to, rest);
  });
  settle(m);
  return found;
}

/** Solids of bodies that go stay: unassigned, where they stand. */
export function releaseSolids(m: Mechanism, bodies: ReadonlySet<string>): void {
  for (const { id, solids = [] } of m.bodies)
    if (bodies.has(id)) assignSolids(m, solids.map((own) => ({ carrier: id, id: own.id })), UNASSIGNED); // prettier-ignore
}

/** Takes solids away; files of which none is left go too. */
export function dropSolids(m: Mechanism, refs: readonly SolidRef[]): void {
  for (const { carrier, id } of refs) {
    const list = listOf(m, carrier);
    const i = list.findIndex((own) => own.id === id);
    if (i >= 0) list.splice(i, 1);
  }
  settle(m);
  dropIdleFiles(m);
}
function dropIdleFiles(m: Mechanism): void {
  if (!m.shapes) return;
  const used = new Set(allSolids(m).flatMap(({ solid }) => solidFile(solid)?.file ?? []));
  m.shapes.files = m.shapes.files.filter(({ id }) => used.has(id));
  if (allSolids({ shapes: m.shapes, bodies: [] }).length === 0 && m.shapes.files.length === 0) delete m.shapes;
}

/** Corners of an outline about a body beyond which it need not be told. */
const MOST_CORNERS = 96;

/** Everything within the hull of some places, as it is seen from above a plane: outline, level and thickness. */
function prismAbout(corners: readonly Point3[], frame: Frame): { outline: Point2[]; level: number; thickness: number } {
  const seen = corners.map((corner) => turnedBack(frame.axes, minus(corner, frame.at)));
  const flat = seen.map(([x, y]): Point2 => [x, y]);
  let outline = convexHull(flat);
  if (outline.length > MOST_CORNERS) {
    const step = outline.length / MOST_CORNERS;
    outline = Array.from({ length: MOST_CORNERS }, (_, i) => outline[Math.floor(i * step)]!);
  }
  const [low, high] = [Math.min(...seen.map(([, , z]) => z)), Math.max(...seen.map(([, , z]) => z))];
  if (outline.length < 3) {
    // All in one line: a box about it that can be seen.
    const [xs, ys] = [flat.map(([x]) => x), flat.map(([, y]) => y)];
    const [l, r, b, t] = [Math.min(...xs) - 1e-3, Math.max(...xs) + 1e-3, Math.min(...ys) - 1e-3, Math.max(...ys) + 1e-3]; // prettier-ignore
    outline = [[l, b], [r, b], [r, t], [l, t]]; // prettier-ignore
  }
  return { outline, level: (low + high) / 2, thickness: Math.max(1e-6, high - low) };
}

/**
 * Makes a body of solids: they stay where they are and move together from here on. On the board it is the outline of
 * the hull about them.
 * @param corners of all of them, in the world, m
 * @param plane in which it moves; the first where nothing is said
 */
export function bodyOfSolids(
  m: Mechanism,
  refs: readonly SolidRef[],
  corners: readonly Point3[],
  name?: string,
  plane: string = firstPlane(m),
): Body {
  const taken = m.bodies.map((body) => body.name);
  const wanted = (name ?? '').trim().slice(0, 70);
  const called = wanted === '' ? freshName('Body', taken) : taken.includes(wanted) ? freshName(wanted, taken) : wanted;
  const { outline, level, thickness } = prismAbout(corners, standingOf(m).plane(plane));
  const [cx, cy] = middleOf(outline);
  const body = addPlate(m, [[cx, cy], ...outline], called, [], plane);
  body.level = level;
  body.thickness = thickness;
  body.points = [{ id: 'p1', at: [0, 0] }];
  const around = outline.map(([x, y]): [number, number] => [x - cx, y - cy]);
  body.shape = { kind: 'plate', outline: around, holes: [] };
  assignSolids(m, refs, body.id);
  return m.bodies.find(({ id }) => id === body.id)!;
}
function middleOf(outline: readonly Point2[]): Point2 {
  const [xs, ys] = [outline.map(([x]) => x), outline.map(([, y]) => y)];
  return [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2];
}

/**
 * Moves a body of solids to a plane of any direction. All that it has stays where it is in space: its solids, its points,
 * planes that ride on it; its outline becomes that of the hull about it.
 * @param corners of its solids, in the world, m
 * @returns null, or a sentence that says why it cannot
 */
export function turnToPlane(m: Mechanism, id: string, planeId: string, corners: readonly Point3[]): string | null {
  const body = m.bodies.find((own) => own.id === id)!;
  if (body.plane === planeId) return null;
  const path = m.paths.find((own) => own.body === id);
  if (path) return `“${body.name}” has the path “${path.name}” drawn on it: take that off first.`;
  const standing = standingOf(m);
  const [now, plane] = [standing.body(id), standing.plane(planeId)];
  const places = body.points.map(({ at, height = 0 }) => plus(now.at, turned(now.axes, [...at, height])));
  const solids = (body.solids ?? []).map((solid) => inWorld(now, solid));
  const riders = m.planes.filter(({ on }) => on === id).map((own) => ({ own, frame: standing.plane(own.id) }));
  const { outline, level, thickness } = prismAbout(corners.length > 0 ? corners : places, plane);
  const [x, y] = middleOf(outline);
  body.plane = planeId;
  body.pose = { x, y, angle: 0 };
  body.level = level;
  body.thickness = thickness;
  body.shape = { kind: 'plate', outline: outline.map(([px, py]) => [px - x, py - y]), holes: [] };
  const then = standingOf(m).body(id);
  body.points.forEach((point, i) => {
    const [px, py, height] = turnedBack(then.axes, minus(places[i]!, then.at));
    point.at = [px, py];
    if (Math.abs(height) > 1e-12) point.height = height;
    else delete point.height;
  });
  body.solids?.forEach((solid, i) => Object.assign(solid, seenFrom(then, solids[i]!)));
  for (const { own, frame } of riders) Object.assign(own, seenFrom(then, frame));
  return null;
}

/** A file of geometry as a document is told of it. */
export interface TakenFile {
  name: string;
  hash: string;
  solids: readonly {
    key: string;
    name: string;
    colour: string | null;
    digest: string;
    holds: Extract<BodySolid['shape'], { kind: 'file' }>['holds'];
    problem: string | null;
  }[];
}

const shapeIn = (
  file: string,
  { key, digest, holds, problem }: TakenFile['solids'][number],
): Extract<BodySolid['shape'], { kind: 'file' }> => ({
  kind: 'file',
  file,
  key,
  digest,
  holds,
  counts: 'skin',
  problem,
});

/** Takes the solids of a file in: they stand where the file has them, and nobody said yet what they move with. */
export function takeFile(m: Mechanism, taken: TakenFile): GeometryFile {
  const { files } = shapesIn(m);
  const file: GeometryFile = { id: freeId('file', files.map(({ id }) => id)), name: taken.name, hash: taken.hash }; // prettier-ignore
  files.push(file);
  for (const solid of taken.solids) addSolid(m, UNASSIGNED, newSolid(file.id, solid));
  return file;
}
const newSolid = (file: string, solid: TakenFile['solids'][number]): Omit<BodySolid, 'id'> => ({
  name: solid.name.slice(0, 80) || 'Solid',
  colour: solid.colour,
  shape: shapeIn(file, solid),
  at: [0, 0, 0],
  turn: [1, 0, 0, 0],
  density: STEEL,
});

/** What a newer file brings, by the names of its solids. */
export interface FileChanges {
  /** With the name of the body that each of them keeps. */
  changed: { name: string; carrier: string }[];
  same: number;
  fresh: string[];
  gone: { name: string; carrier: string }[];
}

/** How a newer file differs from the one that is there. */
export function changesOf(m: Mechanism, file: string, taken: Pick<TakenFile, 'solids'>): FileChanges {
  const newer = new Map(taken.solids.map((solid) => [solid.key, solid]));
  const there = allSolids(m).filter(({ solid }) => solidFile(solid)?.file === file);
  const nameOf = (carrier: string) =>
    carrier === GROUND ? 'ground' : (m.bodies.find(({ id }) => id === carrier)?.name ?? 'unassigned');
  const changes: FileChanges = { changed: [], same: 0, fresh: [], gone: [] };
  for (const { carrier, solid } of there) {
    const { shape } = solid;
    if (shape.kind !== 'file') continue;
    const found = newer.get(shape.key);
    const told = { name: solid.name, carrier: nameOf(carrier) };
    if (!found) changes.gone.push(told);
    else if (found.digest !== shape.digest) changes.changed.push(told);
    else changes.same++;
  }
  const keys = new Set(there.map(({ solid }) => solidFile(solid)!.key));
  for (const { key, name } of taken.solids) if (!keys.has(key)) changes.fresh.push(name);
  return changes;
}

/**
 * Puts a newer file in the place of the one that is there: solids of the same name keep what they move with and what
 * was said of them, those that are new are unassigned, those that are gone go.
 */
export function replaceFile(m: Mechanism, fileId: string, taken: TakenFile): void {
  const file = shapesIn(m).files.find(({ id }) => id === fileId)!;
  file.name = taken.name;
  file.hash = taken.hash;
  const newer = new Map(taken.solids.map((solid) => [solid.key, solid]));
  const gone: SolidRef[] = [];
  const seen = new Set<string>();
  for (const { carrier, solid } of allSolids(m)) {
    const { shape } = solid;
    if (shape.kind !== 'file' || shape.file !== fileId) continue;
    seen.add(shape.key);
    const found = newer.get(shape.key);
    if (!found) gone.push({ carrier, id: solid.id });
    else if (found.digest !== shape.digest) {
      // A hull was that of the solid as it was; what counts nothing still does.
      solid.shape = { ...shapeIn(fileId, found), ...(shape.counts === 'nothing' && { counts: shape.counts }) };
      solid.colour = found.colour;
    }
  }
  dropSolids(m, gone);
  for (const solid of taken.solids) if (!seen.has(solid.key)) addSolid(m, UNASSIGNED, newSolid(fileId, solid));
}

/** Whether two directions are those of one line. */
export const isAlong = (a: Point3, b: Point3): boolean => Math.abs(Math.abs(dot(a, b)) - 1) < 1e-6;
/** Normal of a plane in the world. */
export const normalOf = (m: Mechanism, plane: string): [number, number, number] =>
  axisOf(standingOf(m).plane(plane).axes, 2);
