import { CylinderGeometry, Group, Mesh, MeshBasicMaterial, Quaternion, Vector3 } from 'three';

/** An arrow in the world: from a place, as long as it is drawn, m. */
export interface SceneArrow {
  at: readonly [number, number, number];
  way: readonly [number, number, number];
  colour: string;
  /** Whether it stands for turning about it: it gets a second tip. */
  turns?: boolean;
}

const UP = new Vector3(0, 1, 0);

/** Marks are seen through what they stand in: drawn behind all else, whatever lies before them. */
export const ON_TOP = 2;
export const onTop = (colour: string): MeshBasicMaterial => new MeshBasicMaterial({ color: colour, depthTest: false });

/** An arrow as a thing to be drawn; null for one that is too short to be seen. */
export function arrowMesh({ at, way, colour, turns = false }: SceneArrow): Group | null {
  const reach = new Vector3(...way);
  const length = reach.length();
  if (!(length > 1e-6)) return null;
  const material = onTop(colour);
  const thick = Math.max(0.0012, length * 0.018);
  const tipLong = Math.min(length * 0.22, thick * 9);
  const shaft = new Mesh(new CylinderGeometry(thick, thick, length - tipLong, 8), material);
  shaft.position.y = (length - tipLong) / 2;
  const group = new Group();
  shaft.renderOrder = ON_TOP;
  group.add(shaft);
  for (const k of turns ? [0, 1] : [0]) {
    const tip = new Mesh(new CylinderGeometry(0, thick * 3, tipLong, 12), material);
    tip.renderOrder = ON_TOP;
    tip.position.y = length - tipLong * (0.5 + 0.8 * k);
    group.add(tip);
  }
  group.position.set(...at);
  group.quaternion.setFromUnitVectors(UP, reach.divideScalar(length));
  return group;
}

/** Gives back what arrows took. */
export function dropArrow(group: Group): void {
  for (const mesh of group.children) {
    if (!(mesh instanceof Mesh)) continue;
    (mesh.geometry as CylinderGeometry).dispose();
    (mesh.material as MeshBasicMaterial).dispose();
  }
}

/** The rotation that turns the upright into a direction. */
export const uprightTo = (direction: Vector3): Quaternion => new Quaternion().setFromUnitVectors(UP, direction);
