import { GROUND, spaceOf, turns, type Mechanism, type Standing } from '@yoke/core';
import type { BufferGeometry } from 'three';
import { CylinderGeometry, Group, Matrix4, Mesh, TorusGeometry, Vector3 } from 'three'; // prettier-ignore
import { ON_TOP, onTop, uprightTo } from './arrows';

/** An axis that drives a joint, as far as its direction is drawn. */
export interface DrivenAxis {
  joint: string | null;
  reversed: boolean;
  colour: string;
}

/** The mark of a positive direction, and how it is put where its joint stands. */
export interface DirectionMark {
  object: Group;
  place(standing: Standing): void;
}

/** Three quarters of a ring, and where its tip goes. */
const SWEEP = 1.5 * Math.PI;

/** Positive directions of axes: an arrow beside the rail, a bow about the shaft. */
export function directionMarks(mechanism: Mechanism, axes: readonly DrivenAxis[], size: number): DirectionMark[] {
  return axes.flatMap(({ joint: id, reversed, colour }): DirectionMark[] => {
    const joint = mechanism.joints.find((own) => own.id === id);
    if (
      !joint ||
      (joint.kind !== 'pin' && joint.kind !== 'slide' && joint.kind !== 'slot' && joint.kind !== 'cylinder')
    )
      return [];
    const turning = turns(joint);
    const material = onTop(colour);
    const object = new Group();
    object.matrixAutoUpdate = false;
    const thick = size * 0.004;
    const add = (geometry: BufferGeometry, matrix: Matrix4) => {
      const mesh = new Mesh(geometry, material);
      mesh.matrixAutoUpdate = false;
      mesh.matrix.copy(matrix);
      mesh.renderOrder = ON_TOP;
      object.add(mesh);
    };
    if (turning) {
      const r = size * 0.05;
      add(new TorusGeometry(r, thick, 8, 40, SWEEP), new Matrix4());
      // Anticlockwise about the normal: the tip stands at the end of the bow, along its tangent.
      const end = new Vector3(r * Math.cos(SWEEP), r * Math.sin(SWEEP), 0);
      const tangent = new Vector3(-Math.sin(SWEEP), Math.cos(SWEEP), 0);
      add(new CylinderGeometry(0, thick * 3, thick * 8, 12), new Matrix4().compose(end, uprightTo(tangent), new Vector3(1, 1, 1))); // prettier-ignore
    } else {
      const long = size * 0.12;
      add(new CylinderGeometry(thick, thick, long, 8), new Matrix4().makeTranslation(0, long / 2, 0));
      add(new CylinderGeometry(0, thick * 3, thick * 8, 12), new Matrix4().makeTranslation(0, long, 0));
    }
    const place = (standing: Standing): void => {
      const plane = mechanism.bodies.find((body) => body.id === joint.b.body)?.plane ?? mechanism.planes[0]!.id;
      const n = standing.plane(plane).axes;
      const normal = new Vector3(n[2], n[5], n[8]);
      const at = new Vector3(...spaceOf(mechanism, joint.b, standing));
      const flip = reversed ? -1 : 1;
      if (turning) {
        const [x, y] = [new Vector3(n[0], n[3], n[6]), new Vector3(n[1], n[4], n[7]).multiplyScalar(flip)];
        object.matrix.makeBasis(x, y, normal.multiplyScalar(flip)).setPosition(at);
        return;
      }
      const way = wayOf(mechanism, joint, standing)?.multiplyScalar(flip);
      if (!way || way.lengthSq() < 1e-18) return;
      // Beside the rail, so that it is seen.
      const beside = new Vector3()
        .crossVectors(normal, way)
        .normalize()
        .multiplyScalar(size * 0.03);
      object.matrix.compose(at.add(beside), uprightTo(way.normalize()), new Vector3(1, 1, 1));
    };
    return [{ object, place }];
  });
}

/** The direction in which the position of a sliding joint grows, in the world. */
function wayOf(mechanism: Mechanism, joint: Mechanism['joints'][number], standing: Standing): Vector3 | null {
  if (joint.kind === 'cylinder') {
    const [a, b] = [spaceOf(mechanism, joint.a, standing), spaceOf(mechanism, joint.b, standing)];
    return new Vector3(...b).sub(new Vector3(...a));
  }
  if (joint.kind !== 'slide' && joint.kind !== 'slot') return null;
  const carrier = joint.a.body;
  const ground = mechanism.ground.find(({ id }) => id === joint.a.point);
  const { axes } = carrier === GROUND ? standing.plane(ground!.plane) : standing.body(carrier);
  const [c, s] = [Math.cos(joint.angle), Math.sin(joint.angle)];
  return new Vector3(axes[0]! * c + axes[1]! * s, axes[3]! * c + axes[4]! * s, axes[6]! * c + axes[7]! * s);
}
