import { planeOf, planeOfPath, type Joint, type Mechanism } from '../machine';

/** The frame of a plane, among the nodes of its joints. */
const FRAME = -1;

/** What passes on the load of a part of a plane to what carries it: one joint, or several that share it. */
export interface LoadPath {
  /** Joints through which it passes, by their places. */
  joints: readonly number[];
  /** Bodies whose load it is, by their places. */
  beyond: readonly number[];
}

/** The two ends of a joint within a plane: bodies by their places, or the frame. */
interface Edge {
  joint: number;
  a: number;
  b: number;
}

/**
 * For every joint the path of load that it lies on, seen from the frame of its plane: alone where nothing else ties what
 * hangs on it; with others where they share it. Joints inside of what is shared, and those that tie planes to each other,
 * have none.
 */
export function loadPaths(mechanism: Mechanism): (LoadPath | null)[] {
  const places = new Map(mechanism.bodies.map(({ id }, i) => [id, i]));
  const at = (body: string) => places.get(body) ?? FRAME;
  const paths: (LoadPath | null)[] = mechanism.joints.map(() => null);
  for (const { id } of mechanism.planes) {
    const edges = mechanism.joints.flatMap((joint, i): Edge[] =>
      planeOfJoint(mechanism, joint) === id
        ? [{ joint: i, a: at(bodyOfA(mechanism, joint)), b: at(joint.b.body) }]
        : [],
    );
    for (const block of blocksFrom(FRAME, edges)) {
      const beyond = reachedFrom(edges, block);
      const gates = block.edges.filter(({ a, b }) => a === block.root || b === block.root);
      const path = { joints: gates.map(({ joint }) => joint), beyond };
      for (const { joint } of gates) paths[joint] = path;
    }
  }
  return paths;
}

/** Plane that a joint acts in; undefined where it stands between two, or is no tie at all. */
function planeOfJoint(m: Mechanism, joint: Joint): string | undefined {
  if (joint.kind === 'cylinder' || joint.kind === 'rod' || joint.kind === 'ball') return undefined;
  if ('a' in joint) return planeOf(m, joint.a);
  return planeOfPath(
    m,
    m.paths.find(({ id }) => id === joint.path)!,
  );
}

const bodyOfA = (m: Mechanism, joint: Joint): string =>
  'a' in joint ? joint.a.body : m.paths.find(({ id }) => id === joint.path)!.body;

/** A part of a graph that no single node cuts apart: its edges, its nodes but the one nearest to the root, and that one. */
interface Block {
  root: number;
  edges: Edge[];
  nodes: number[];
}

/** The blocks of a graph as they hang on a root (biconnected components; Hopcroft and Tarjan). */
function blocksFrom(root: number, edges: readonly Edge[]): Block[] {
  const around = new Map<number, Edge[]>();
  for (const edge of edges) for (const node of [edge.a, edge.b]) around.set(node, [...(around.get(node) ?? []), edge]);
  const depth = new Map<number, number>([[root, 0]]);
  const blocks: Block[] = [];
  const stack: Edge[] = [];
  const used = new Set<Edge>();
  const visit = (node: number): number => {
    let low = depth.get(node)!;
    for (const edge of around.get(node) ?? []) {
      if (used.has(edge)) continue;
      used.add(edge);
      const next = edge.a === node ? edge.b : edge.a;
      stack.push(edge);
      if (depth.has(next)) {
        low = Math.min(low, depth.get(next)!);
        continue;
      }
      depth.set(next, depth.get(node)! + 1);
      const there = visit(next);
      low = Math.min(low, there);
      // Nothing beyond gets round this node: what was met since is a block that hangs on it.
      if (there >= depth.get(node)!) {
        const own = stack.splice(stack.indexOf(edge));
        const nodes = [...new Set(own.flatMap(({ a, b }) => [a, b]))].filter((other) => other !== node);
        blocks.push({ root: node, edges: own, nodes });
      }
    }
    return low;
  };
  visit(root);
  return blocks;
}

/** Everything that hangs on a block, away from its root. */
function reachedFrom(edges: readonly Edge[], { root, nodes, edges: own }: Block): number[] {
  const reached = new Set(nodes);
  const others = edges.filter((edge) => !own.includes(edge));
  for (let before = -1; before !== reached.size;) {
    before = reached.size;
    for (const { a, b } of others) {
      if (a === root || b === root) continue;
      if (reached.has(a)) reached.add(b);
      if (reached.has(b)) reached.add(a);
    }
  }
  return [...reached];
}
