import type { Object3D } from 'three';
import { Color, DoubleSide, EdgesGeometry, ExtrudeGeometry, Float32BufferAttribute, Group, BufferGeometry, Line, LineBasicMaterial, LineSegments, Mesh, MeshLambertMaterial, Shape, Vector2 } from 'three'; // prettier-ignore

type At = readonly [number, number, number];

/** Loose parts, what handles them and sensors, as they stand in the world. */
export interface LooseThings {
  /** Parts by their outline (m) and where they lie in the front plane. */
  parts: readonly { kind: string; corners: readonly (readonly [number, number])[]; x: number; y: number; angle: number; colour: string }[]; // prettier-ignore
  /** Belts, plates, fields of sensors. */
  lines: readonly { points: readonly At[]; colour: string; strong: boolean }[];
}

/** How thick parts of the front plane are drawn, m: they are flat. */
const THICK = 0.008;

/** Draws loose things; shapes of one kind are made once. */
export class LooseGroup {
  readonly group = new Group();
  private readonly shapes = new Map<string, { body: BufferGeometry; edges: BufferGeometry }>();

  /** @param paper colour that solids are lightened by */
  show({ parts, lines }: LooseThings, paper: string, ink: string): void {
    for (const child of this.group.children) if (child instanceof Line) child.geometry.dispose();
    this.group.clear();
    const kinds = new Set(parts.map(({ kind }) => kind));
    for (const [kind, { body, edges }] of this.shapes)
      if (!kinds.has(kind)) {
        body.dispose();
        edges.dispose();
        this.shapes.delete(kind);
      }
    for (const { kind, corners, x, y, angle, colour } of parts) {
      const { body, edges } = this.shapeOf(kind, corners);
      const mesh = new Mesh(body, new MeshLambertMaterial({ color: new Color(colour).lerp(new Color(paper), 0.35), side: DoubleSide })); // prettier-ignore
      const edge = new LineSegments(edges, new LineBasicMaterial({ color: ink }));
      for (const object of [mesh, edge]) {
        object.position.set(x, y, 0);
        object.rotation.z = angle;
      }
      this.group.add(mesh, edge);
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

  private shapeOf(kind: string, corners: readonly (readonly [number, number])[]) {
    const known = this.shapes.get(kind);
    if (known) return known;
    const body = new ExtrudeGeometry(new Shape(corners.map(([x, y]) => new Vector2(x, y))), { depth: THICK, bevelEnabled: false }); // prettier-ignore
    body.translate(0, 0, -THICK / 2);
    const made = { body, edges: new EdgesGeometry(body, 30) };
    this.shapes.set(kind, made);
    return made;
  }
}
