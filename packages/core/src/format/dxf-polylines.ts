import type { IEntity } from 'dxf-parser';

/** One pair of lines of a DXF file: the group code and its value. */
interface Group {
  code: number;
  value: number | string | boolean;
}

/** What the parser hands to a reader of entities: the groups one after the other. It throws behind the last one. */
interface Scanner {
  next(): Group;
}

/** A corner of a polyline. */
interface Vertex {
  x: number;
  y: number;
  bulge?: number;
}

/** A polyline as read. */
export interface PolylineEntity extends Partial<IEntity> {
  type: string;
  layer: string;
  /** Whether it is closed. */
  shape: boolean;
  vertices: Vertex[];
}

// The parser's own readers of polylines go round for ever where a corner lacks its y, or where the end of the corners is
// not said, and make as many corners as a file claims. These read every group once, whatever stands in it.

/** Takes a group of a corner: its place and its bulge; a place that is no number leaves the corner without one. */
function takeCorner(vertex: Vertex, { code, value }: Group): void {
  if (code === 10) vertex.x = Number(value);
  else if (code === 20) vertex.y = Number(value);
  else if (code === 42 && Number(value) !== 0) vertex.bulge = Number(value);
}

const begun = (type: unknown): PolylineEntity => ({ type: String(type), layer: '0', shape: false, vertices: [] });

function takeCommon(entity: PolylineEntity, { code, value }: Group): void {
  if (code === 8) entity.layer = String(value);
  else if (code === 70) entity.shape = (Number(value) & 1) === 1;
}

/** Reads LWPOLYLINE: a corner begins with each x. */
export class LightPolyline {
  ForEntityName = 'LWPOLYLINE' as const;

  parseEntity(scanner: Scanner, { value }: Group): IEntity {
    const entity = begun(value);
    for (let group = scanner.next(); group.code !== 0; group = scanner.next()) {
      takeCommon(entity, group);
      if (group.code === 10) entity.vertices.push({ x: NaN, y: NaN });
      const corner = entity.vertices.at(-1);
      if (corner) takeCorner(corner, group);
    }
    return entity as IEntity;
  }
}

/** Reads POLYLINE: each corner is a VERTEX of its own; SEQEND, or whatever else comes, ends them. */
export class HeavyPolyline {
  ForEntityName = 'POLYLINE' as const;

  parseEntity(scanner: Scanner, { value }: Group): IEntity {
    const entity = begun(value);
    let group = scanner.next();
    for (; group.code !== 0; group = scanner.next()) takeCommon(entity, group);
    while (group.value === 'VERTEX') {
      const corner: Vertex = { x: NaN, y: NaN };
      for (group = scanner.next(); group.code !== 0; group = scanner.next()) takeCorner(corner, group);
      entity.vertices.push(corner);
    }
    if (group.value === 'SEQEND')
      do group = scanner.next();
      while (group.code !== 0);
    return entity as IEntity;
  }
}
