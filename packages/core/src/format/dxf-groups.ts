import { OutlineError } from './outline';

/** A block that is put somewhere: as often as its columns and rows say, turned and stretched about its base. */
export interface Insert {
  block: string;
  layer: string;
  x: number;
  y: number;
  scaleX: number;
  scaleY: number;
  /** Degrees, anticlockwise. */
  turn: number;
  columns: number;
  rows: number;
  columnWay: number;
  rowWay: number;
}

/** Entities that stand together: those that are read, as a DXF file of one section, and the blocks put among them. */
export interface Entities {
  text: string;
  inserts: readonly Insert[];
}

/** What of a DXF file is read: its entities with the groups that say where they are, and what else it holds. */
export interface ReadableDxf extends Entities {
  /** Blocks by name, with the point that is put where they are inserted. */
  blocks: ReadonlyMap<string, Entities & { base: readonly [number, number] }>;
  /** Kinds of entities that are not read, each as often as it stands there. */
  ignored: string[];
  /** $INSUNITS, where the file gives it. */
  unit: number | null;
}

/** Entities that are read. */
const READ = new Set(['LINE', 'ARC', 'CIRCLE', 'ELLIPSE', 'LWPOLYLINE', 'POLYLINE', 'SPLINE']);
/** Parts of a polyline that stand as entities behind it. */
const PARTS = new Set(['VERTEX', 'SEQEND']);
/** Groups of an entity that say on which layer and where it is. */
const KEPT = new Set([8, 10, 20, 30, 11, 21, 31, 40, 41, 42, 50, 51, 70, 71, 72, 73, 90]);
/** Groups of an INSERT that say what is put where. */
const INSERT_GROUPS: Record<number, keyof Insert> = { 2: 'block', 8: 'layer', 10: 'x', 20: 'y', 41: 'scaleX', 42: 'scaleY', 50: 'turn', 70: 'columns', 71: 'rows', 44: 'columnWay', 45: 'rowWay' }; // prettier-ignore
/** Kinds of entities that are told of at most: a hostile file has as many as it has words. */
const MOST_KINDS = 10_000;

/** Gathers entities that stand together, group by group. */
class EntityList {
  private readonly kept: string[] = ['0', 'SECTION', '2', 'ENTITIES'];
  private readonly inserts: Insert[] = [];
  private taken = false;
  private inPolyline = false;
  private insert: Insert | null = null;

  /** Begins an entity. @returns whether it is read, or a part of what is */
  begin(kind: string): boolean {
    if (!PARTS.has(kind)) this.inPolyline = kind === 'POLYLINE';
    this.taken = READ.has(kind) || (this.inPolyline && PARTS.has(kind));
    this.insert = null;
    if (kind === 'INSERT') {
      this.insert = { block: '', layer: '0', x: 0, y: 0, scaleX: 1, scaleY: 1, turn: 0, columns: 1, rows: 1, columnWay: 0, rowWay: 0 }; // prettier-ignore
      this.inserts.push(this.insert);
      return true;
    }
    if (this.taken) this.kept.push('0', kind);
    return this.taken || PARTS.has(kind);
  }

  /** Takes a group of the entity that was begun last. */
  take(group: number, code: string, value: string): void {
    if (this.taken && KEPT.has(group)) this.kept.push(code, value);
    const key = INSERT_GROUPS[group];
    if (!this.insert || !key) return;
    if (key === 'block' || key === 'layer') this.insert[key] = value;
    else this.insert[key] = Number(value);
  }

  /** Nothing more belongs to the entity that was begun last. */
  end(): void {
    this.taken = false;
    this.insert = null;
  }

  get entities(): Entities {
    return { text: [...this.kept, '0', 'ENDSEC', '0', 'EOF', ''].join('\n'), inserts: this.inserts };
  }
}

/**
 * Goes through the groups of a DXF file once and takes out what is read. The parser gets nothing else to see: its
 * readers of tables, blocks and other entities go round for ever on files that are torn.
 * @throws OutlineError with the first line that is no group code, or where the file breaks off
 */
export function readableDxf(text: string): ReadableDxf {
  const drawing = new EntityList();
  const blocks = new Map<string, { list: EntityList; base: [number, number] }>();
  const ignored: string[] = [];
  let unit: number | null = null;
  let section = '';
  let variable = '';
  /** Where entities go now, and the block whose own groups are read. */
  let list: EntityList | null = null;
  let head: { list: EntityList; base: [number, number] } | null = null;
  let ended = false;
  let opening = false;
  for (let at = 0, line = 1; at < text.length && !ended; line += 2) {
    const [codeText, next] = lineAt(text, at);
    const code = codeText.trim();
    if (code === '' && text.slice(at).trim() === '') break;
    if (!/^-?\d{1,4}$/.test(code))
      throw new OutlineError(
        `This is no DXF drawing that can be read: line ${line} should be a group code, but “${code.slice(0, 20)}” stands there. Save it as ASCII DXF.`,
      );
    const [raw, after] = lineAt(text, next);
    const [group, value] = [Number(code), raw.trim()];
    at = after;
    if (group === 0) {
      opening = value === 'SECTION';
      ended = value === 'EOF';
      list?.end();
      head = null;
      if (value === 'ENDSEC' || opening || ended) {
        section = '';
        list = null;
      } else if (section === 'BLOCKS' && value === 'BLOCK') {
        head = { list: new EntityList(), base: [0, 0] };
        list = head.list;
      } else if (section === 'BLOCKS' && value === 'ENDBLK') list = null;
      else if (list && !list.begin(value) && ignored.length < MOST_KINDS) ignored.push(value.slice(0, 40));
    } else if (opening && group === 2) {
      section = value;
      opening = false;
      if (section === 'ENTITIES') list = drawing;
    } else if (section === 'HEADER') {
      if (group === 9) variable = value;
      else if (variable === '$INSUNITS' && group === 70) unit = Number(value);
    } else if (head) {
      if (group === 2) blocks.set(value, head);
      else if (group === 10 || group === 20) head.base[group === 10 ? 0 : 1] = Number(value);
    } else list?.take(group, code, value);
  }
  if (!ended)
    throw new OutlineError(
      'This is no DXF drawing that can be read: it breaks off before its end. Save it as ASCII DXF.',
    );
  return {
    ...drawing.entities,
    blocks: new Map([...blocks].map(([name, { list: own, base }]) => [name, { ...own.entities, base }])),
    ignored,
    unit,
  };
}

/** The line that begins at a place, and the place behind it. */
function lineAt(text: string, at: number): [string, number] {
  const end = text.indexOf('\n', at);
  return end < 0 ? [text.slice(at), text.length] : [text.slice(at, end), end + 1];
}
