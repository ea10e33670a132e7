declare module 'poly-decomp' {
  type Polygon = [number, number][];
  export function isSimple(polygon: Polygon): boolean;
  export function makeCCW(polygon: Polygon): boolean;
  export function removeCollinearPoints(polygon: Polygon, thresholdAngle: number): number;
  export function quickDecomp(polygon: Polygon): Polygon[];
}
