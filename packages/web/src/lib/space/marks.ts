import { GROUND, spaceOf, standingOf, type Mechanism, type Standing } from '@yoke/core';
import {
  Box3,
  CylinderGeometry,
  Mesh,
  MeshLambertMaterial,
  Quaternion,
  SphereGeometry,
  Vector3,
  type BufferGeometry,
} from 'three';

/** Colours of marks: of joints by identifier, of what has none, and of springs. */
export interface MarkColours {
  ink: string;
  soft: string;
  things: Readonly<Record<string, string>>;
}

/** A mark of a joint or spring, and how it is put where that stands. */
export interface Mark {
  object: Mesh;
  /** Body with which it is shown. */
  body: string;
  place(standing: Standing): void;
}

/** Pins, rails, rods and balls as quiet marks. */
export function marksOf(mechanism: Mechanism, colours: MarkColours, reachOf: (body: string) => number): Mark[] {
  const marks: Mark[] = [];
  const size = typicalOf(mechanism);
  const mark = (
    geometry: BufferGeometry,
    colour: string,
    body: string,
    place: (standing: Standing, mesh: Mesh) => void,
  ) => {
    // prettier-ignore
    const object = new Mesh(geometry, new MeshLambertMaterial({ color: colour }));
    object.matrixAutoUpdate = false;
    marks.push({ object, body, place: (standing) => place(standing, object) });
  };
  const up = new Vector3(0, 1, 0);
  const between = (mesh: Mesh, from: Vector3, to: Vector3) => {
    const way = to.clone().sub(from);
    const length = Math.max(way.length(), 1e-9);
    const turn = new Quaternion().setFromUnitVectors(up, way.divideScalar(length));
    mesh.matrix.compose(from.clone().add(to).multiplyScalar(0.5), turn, new Vector3(1, length, 1));
  };
  for (const joint of mechanism.joints) {
    const colour = colours.things[joint.id] ?? colours.ink;
    const { b } = joint;
    const owner = b.body;
    if (joint.kind === 'rod' || joint.kind === 'cylinder')
      mark(new CylinderGeometry(size * 0.007, size * 0.007, 1, 12), colour, owner, (standing, mesh) =>
        between(
          mesh,
          new Vector3(...spaceOf(mechanism, joint.a, standing)),
          new Vector3(...spaceOf(mechanism, b, standing)),
        ),
      );
    else if (joint.kind === 'ball')
      mark(new SphereGeometry(size * 0.02, 20, 12), colour, owner, (standing, mesh) =>
        mesh.matrix.makeTranslation(...spaceOf(mechanism, b, standing)),
      );
    else if (joint.kind === 'pin') {
      const plane = mechanism.bodies.find(({ id }) => id === b.body)?.plane ?? mechanism.planes[0]!.id;
      const long = 1.6 * Math.max(0.008, mechanism.bodies.find(({ id }) => id === b.body)?.thickness ?? 0.008);
      mark(new CylinderGeometry(size * 0.011, size * 0.011, long, 16), colour, owner, (standing, mesh) => {
        const n = standing.plane(plane).axes;
        const turn = new Quaternion().setFromUnitVectors(up, new Vector3(n[2], n[5], n[8]));
        mesh.matrix.compose(new Vector3(...spaceOf(mechanism, b, standing)), turn, new Vector3(1, 1, 1));
      });
    } else if (joint.kind === 'slide' || joint.kind === 'slot') {
      const carrier = joint.a.body;
      // As long as suits what slides on it.
      const long = 1.5 * reachOf(owner);
      mark(new CylinderGeometry(size * 0.005, size * 0.005, 1, 12), colour, owner, (standing, mesh) => {
        const ground = mechanism.ground.find(({ id }) => id === joint.a.point);
        const { axes } = carrier === GROUND ? standing.plane(ground!.plane) : standing.body(carrier);
        const [c, s] = [Math.cos(joint.angle), Math.sin(joint.angle)];
        const way = new Vector3(axes[0]! * c + axes[1]! * s, axes[3]! * c + axes[4]! * s, axes[6]! * c + axes[7]! * s);
        const at = new Vector3(...spaceOf(mechanism, b, standing));
        between(mesh, at.clone().addScaledVector(way, -long / 2), at.clone().addScaledVector(way, long / 2));
      });
    }
  }
  for (const element of mechanism.elements) {
    if (element.kind !== 'spring' && element.kind !== 'damper') continue;
    mark(new CylinderGeometry(size * 0.006, size * 0.006, 1, 8), colours.soft, element.b.body, (standing, mesh) =>
      between(
        mesh,
        new Vector3(...spaceOf(mechanism, element.a, standing)),
        new Vector3(...spaceOf(mechanism, element.b, standing)),
      ),
    );
  }
  return marks;
}

/** A length typical of what is drawn, m. */
function typicalOf(mechanism: Mechanism): number {
  const standing = standingOf(mechanism);
  const box = new Box3();
  for (const { id, points } of mechanism.bodies)
    for (const { id: point } of points)
      box.expandByPoint(new Vector3(...spaceOf(mechanism, { body: id, point }, standing)));
  return box.isEmpty() ? 0.2 : Math.max(0.05, box.getSize(new Vector3()).length());
}
