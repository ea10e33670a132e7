/** Where the inputs of a formula stand: jets (value and three derivatives over time) of t, master, arc, then the axes. */
export const INPUT = { time: 0, master: 4, arc: 8, axes: 12 } as const;
