import { OutlineError } from './outline';

/** What of a DXF file is read: its lines as groups of the parser, what else it holds, and the number of its unit. */
export interface ReadableDxf {
  /** A DXF file of one section, the entities that are read, with the groups that say where they are. */
  text: string;
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
/** Kinds of entities that are told of at most: a hostile file has as many as it has words. */
const MOST_KINDS = 10_000;

/**
 * Goes through the groups of a DXF file once and takes out what is read. The parser gets nothing else to see: its
 * readers of tables, blocks and other entities go round for ever on files that are torn.
 * @throws OutlineError with the first line that is no group code, or where the file breaks off
 */
export function readableDxf(text: string): ReadableDxf {
  const kept: string[] = ['0', 'SECTION', '2', 'ENTITIES'];
  const ignored: string[] = [];
  let unit: number | null = null;
  let section = '';
  let variable = '';
  let taken = false;
  let inPolyline = false;
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
      taken = false;
      if (value === 'ENDSEC' || opening || ended) section = '';
      else if (section === 'ENTITIES') {
        if (!PARTS.has(value)) inPolyline = value === 'POLYLINE';
        taken = READ.has(value) || (inPolyline && PARTS.has(value));
        if (taken) kept.push('0', value);
        else if (!PARTS.has(value) && ignored.length < MOST_KINDS) ignored.push(value.slice(0, 40));
      }
    } else if (opening && group === 2) {
      section = value;
      opening = false;
    } else if (section === 'HEADER') {
      if (group === 9) variable = value;
      else if (variable === '$INSUNITS' && group === 70) unit = Number(value);
    } else if (taken && KEPT.has(group)) kept.push(code, value);
  }
  if (!ended)
    throw new OutlineError(
      'This is no DXF drawing that can be read: it breaks off before its end. Save it as ASCII DXF.',
    );
  return { text: [...kept, '0', 'ENDSEC', '0', 'EOF', ''].join('\n'), ignored, unit };
}

/** The line that begins at a place, and the place behind it. */
function lineAt(text: string, at: number): [string, number] {
  const end = text.indexOf('\n', at);
  return end < 0 ? [text.slice(at), text.length] : [text.slice(at, end), end + 1];
}
