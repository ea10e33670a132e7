import type { Material, Object3D } from 'three';

/** How something of the picture is shown. */
export type Showing = 'whole' | 'faint' | 'hidden';

/** Kinds of things in a picture in depth that are shown or left out as a whole. */
export const KINDS = {
  solids: 'Solids',
  planes: 'Planes',
  joints: 'Joints, rods and springs',
  directions: 'Positive directions',
  loose: 'Loose parts and sensors',
} as const;
export type Kind = keyof typeof KINDS;
/** Kinds that are not shown whole. */
export type ShownKinds = Readonly<Partial<Record<Kind, Exclude<Showing, 'whole'>>>>;

const ORDER: readonly Showing[] = ['whole', 'faint', 'hidden'];
/** The fainter of two ways to show something. */
export const fainter = (one: Showing, other: Showing): Showing =>
  ORDER[Math.max(ORDER.indexOf(one), ORDER.indexOf(other))]!;

/** Shows all that an object holds whole, faintly or not at all; what is see-through by itself stays so. */
export function fade(object: Object3D, how: Showing): void {
  object.visible = how !== 'hidden';
  object.traverse((child) => {
    const { material } = child as { material?: Material };
    if (!material) return;
    const { transparent, opacity, depthWrite } = (material.userData.whole ??= {
      transparent: material.transparent,
      opacity: material.opacity,
      depthWrite: material.depthWrite,
    }) as Pick<Material, 'transparent' | 'opacity' | 'depthWrite'>;
    const isFaint = how === 'faint';
    material.transparent = isFaint || transparent;
    material.opacity = isFaint ? 0.16 * opacity : opacity;
    material.depthWrite = !isFaint && depthWrite;
  });
}
