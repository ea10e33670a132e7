import type { Object3D } from 'three';
import type { ContactPiece, Place3 } from '@yoke/core';
import { ConvexGeometry } from 'three/examples/jsm/geometries/ConvexGeometry.js';
import { mergeGeometries } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import { BoxGeometry, CapsuleGeometry, Color, CylinderGeometry, DoubleSide, EdgesGeometry, ExtrudeGeometry, Float32BufferAttribute, Group, BufferGeometry, Line, LineBasicMaterial, LineSegments, Mesh, MeshLambertMaterial, Shape, SphereGeometry, Vector2, Vector3 } from 'three'; // prettier-ignore

type At = readonly [number, number, number];

/** Loose parts, what handles them and sensors, as they stand in the world. */
export interface LooseThings {
  /** Parts by their outline (m) and where they lie in the front plane. */
  parts: readonly { kind: string; corners: readonly (readonly [number, number])[]; x: number; y: number; angle: number; colour: string }[]; // prettier-ignore
  /** Belts, plates, fields of sensors. */
  lines: readonly { points: readonly At[]; colour: string; strong: boolean }[];
  /** Parts in space, belts, plates: convex pieces, where they stand, and what tells their shape from others. */
  solids: readonly { key: string; pieces: readonly ContactPiece[]; place: Place3; colour: string }[];
}

/** How thick parts of the front plane are drawn, m: they are flat. */
const THICK = 0.008;

/** Draws loose things; shapes of one kind are made once. */
export class LooseGroup {
  readonly group = new Group();
  private readonly shapes = new Map<string, { body: BufferGeometry; edges: BufferGeometry }>();

  /** @param paper colour that solids are lightened by */
  show({ parts, lines, solids }: LooseThings, paper: string, ink: string): void {
    for (const child of this.group.children) if (child instanceof Line) child.geometry.dispose();
    this.group.clear();
    const kinds = new Set([...parts.map(({ kind }) => kind), ...solids.map(({ key }) => key)]);
    for (const [kind, { body, edges }] of this.shapes)
      if (!kinds.has(kind)) {
        body.dispose();
        edges.dispose();
        this.shapes.delete(kind);
      }
    for (const { kind, corners, x, y, angle, colour } of parts) {
      for (const object of this.drawn(
        this.shapeOf(kind, () => flatShape(corners)),
        colour,
        paper,
        ink,
      )) {
        object.position.set(x, y, 0);
        object.rotation.z = angle;
        this.group.add(object);
      }
    }
    for (const { key, pieces, place, colour } of solids)
      for (const object of this.drawn(
        this.shapeOf(key, () => solidShape(pieces)),
        colour,
        paper,
        ink,
      )) {
        object.position.set(place.x, place.y, place.z);
        object.quaternion.set(place.qx, place.qy, place.qz, place.qw);
        this.group.add(object);
      }
    for (const { points, colour, strong } of lines) {
      const geometry = new BufferGeometry().setAttribute('position', new Float32BufferAttribute(points.flat(), 3));
      const material = new LineBasicMaterial({ color: colour, transparent: !strong, opacity: strong ? 1 : 0.7 });
      const drawn = new Line(geometry, material);
      drawn.userData.strong = strong;
      this.group.add(drawn);
    }
  }

  /** What the view must have room for: parts, belts and plates, and not the fields in which parts are taken away. */
  solids(): Object3D[] {
    this.group.updateMatrixWorld(true);
    return this.group.children.filter((child) => child instanceof Mesh || (child instanceof Line && child.userData.strong === true)); // prettier-ignore
  }

  private drawn({ body, edges }: LooseShape, colour: string, paper: string, ink: string): Object3D[] {
    const fill = new MeshLambertMaterial({ color: new Color(colour).lerp(new Color(paper), 0.35), side: DoubleSide });
    return [new Mesh(body, fill), new LineSegments(edges, new LineBasicMaterial({ color: ink }))];
  }

  private shapeOf(kind: string, make: () => BufferGeometry): LooseShape {
    const known = this.shapes.get(kind);
    if (known) return known;
    const body = make();
    const made = { body, edges: new EdgesGeometry(body, 30) };
    this.shapes.set(kind, made);
    return made;
  }
}

interface LooseShape {
  body: BufferGeometry;
  edges: BufferGeometry;
}

/** A flat part, a little thick so that it is seen from all sides. */
function flatShape(corners: readonly (readonly [number, number])[]): BufferGeometry {
  const body = new ExtrudeGeometry(new Shape(corners.map(([x, y]) => new Vector2(x, y))), { depth: THICK, bevelEnabled: false }); // prettier-ignore
  body.translate(0, 0, -THICK / 2);
  return body;
}

/** Convex pieces together. */
function solidShape(pieces: readonly ContactPiece[]): BufferGeometry {
  const made = pieces.map((piece) => {
    if (piece.kind === 'hull') {
      const points: Vector3[] = [];
      for (let i = 0; i < piece.corners.length; i += 3) points.push(new Vector3().fromArray(piece.corners, i));
      return new ConvexGeometry(points);
    }
    const at = piece.at;
    const body =
      piece.kind === 'box'
        ? new BoxGeometry(2 * piece.half[0], 2 * piece.half[1], 2 * piece.half[2])
        : piece.kind === 'ball'
          ? new SphereGeometry(piece.radius, 24, 16)
          : piece.kind === 'cylinder'
            ? new CylinderGeometry(piece.radius, piece.radius, 2 * piece.half, 32)
            : new CapsuleGeometry(piece.radius, 2 * piece.half, 8, 24);
    if ('axis' in piece && piece.axis === 2) body.rotateX(Math.PI / 2);
    return body.translate(at[0], at[1], at[2]);
  });
  const plain = made.map((body) => {
    body.deleteAttribute('uv');
    return body.index ? body.toNonIndexed() : body;
  });
  return mergeGeometries(plain);
}
