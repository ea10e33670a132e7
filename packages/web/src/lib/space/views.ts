/** Where the machine is seen from: directions towards the eye, in the world. */
export const EYES = {
  depth: { label: 'Askew', key: 'D', from: [0.55, 0.42, 0.85] },
  front: { label: 'Front', key: 'F', from: [0, 0, 1] },
  right: { label: 'Right', key: 'R', from: [1, 0, 0] },
  top: { label: 'Top', key: 'T', from: [0, 1, 0] },
} as const satisfies Record<string, { label: string; key: string; from: readonly [number, number, number] }>;
export type Eye = keyof typeof EYES;
