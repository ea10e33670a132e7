import { XMLBuilder, XMLParser } from 'fast-xml-parser';
import { z } from 'zod';
import { interpolationBody, localVariables, plcName, rowsOf } from './structured-text';
import { columnUnits, shownRows, TrajectoryError, type Trajectory } from './trajectory';

/** Namespace of the XML exchange format of IEC 61131-10 (from memory). */
const NAMESPACE = 'www.iec.ch/public/TC65SC65BWG7TF10';
const COLUMNS = ['times', 'positions', 'velocities', 'accelerations'] as const;

const variable = (name: string, type: string, order?: number) => ({
  '@name': name,
  ...(order === undefined ? {} : { '@orderWithinParamSet': order }),
  Type: { TypeName: type },
});

/**
 * The function block with its table as XML after IEC 61131-10: types, variables with initial values, body in
 * Structured Text. Element names and order are those of the standard as remembered; {@link checkPlcXml} holds them.
 * @param created time stamp of the content, ISO 8601
 */
export function plcXml(trajectory: Trajectory, created: string): string {
  const { axis, form } = trajectory;
  const rows = shownRows(trajectory);
  const units = columnUnits({ ...trajectory, form: 'pvat' });
  const last = rows.length - 1;
  const { integers, reals } = localVariables(form);
  const array = (c: number) => ({
    '@name': COLUMNS[c],
    Type: {
      ArrayTypeSpec: {
        BaseType: { TypeName: 'LREAL' },
        DimensionSpec: { '@dimensionNumber': 1, IndexRange: { '@lower': 0, '@upper': last } },
      },
    },
    InitialValue: { ArrayValue: { Value: rows.map((row) => ({ SimpleValue: { '@value': String(row[c]) } })) } },
  });
  const document = {
    '?xml': { '@version': '1.0', '@encoding': 'UTF-8' },
    Project: {
      '@xmlns': NAMESPACE,
      '@xmlns:xsi': 'http://www.w3.org/2001/XMLSchema-instance',
      '@schemaVersion': '1.0',
      FileHeader: { '@companyName': 'Yoke', '@productName': 'Yoke', '@productVersion': '1' },
      ContentHeader: { '@name': `${axis}: motion`, '@creationDateTime': created },
      Types: {
        GlobalNamespace: {
          FunctionBlock: {
            '@name': `${plcName(axis)}_Motion`,
            Documentation: {
              '@xsi:type': 'SimpleText',
              '#text': `${rows.length} points; time in s, position in ${units[1]!.symbol}, velocity in ${units[2]!.symbol}, acceleration in ${units[3]!.symbol}`,
            },
            Parameters: {
              InputVars: { Variable: [variable('Time', 'LREAL', 1)] },
              OutputVars: {
                Variable: ['Position', 'Velocity', 'Acceleration'].map((name, i) => variable(name, 'LREAL', i + 2)),
              },
            },
            Vars: {
              '@accessSpecifier': 'private',
              Variable: [
                ...integers.map((name) => variable(name, 'DINT')),
                ...reals.map((name) => variable(name, 'LREAL')),
                ...COLUMNS.slice(0, form === 'pvt' ? 3 : 4).map((_, c) => array(c)),
              ],
            },
            MainBody: { BodyContent: { '@xsi:type': 'ST', ST: interpolationBody(form, last) } },
          },
        },
      },
      Instances: '',
    },
  };
  const builder = new XMLBuilder({
    ignoreAttributes: false,
    attributeNamePrefix: '@',
    format: true,
    indentBy: ' ',
    suppressEmptyNode: true,
  });
  return builder.build(document) as string;
}

const text = z.string();
const typed = z.strictObject({ TypeName: text });
const plainVariable = z.strictObject({ '@name': text, '@orderWithinParamSet': text.optional(), Type: typed });
const arrayVariable = z.strictObject({
  '@name': text,
  Type: z.strictObject({
    ArrayTypeSpec: z.strictObject({
      BaseType: typed,
      DimensionSpec: z.strictObject({
        '@dimensionNumber': text,
        IndexRange: z.strictObject({ '@lower': text, '@upper': text }),
      }),
    }),
  }),
  InitialValue: z.strictObject({
    ArrayValue: z.strictObject({ Value: z.array(z.strictObject({ SimpleValue: z.strictObject({ '@value': text }) })) }),
  }),
});

/** Structure of a project with one function block after IEC 61131-10 (from memory). */
const projectSchema = z.object({
  Project: z.strictObject({
    '@xmlns': z.literal(NAMESPACE),
    '@xmlns:xsi': text,
    '@schemaVersion': text,
    FileHeader: z.strictObject({ '@companyName': text, '@productName': text, '@productVersion': text }),
    ContentHeader: z.strictObject({ '@name': text, '@creationDateTime': z.iso.datetime() }),
    Types: z.strictObject({
      GlobalNamespace: z.strictObject({
        FunctionBlock: z.strictObject({
          '@name': z.string().regex(/^[A-Za-z]\w*$/),
          Documentation: z.looseObject({}),
          Parameters: z.strictObject({
            InputVars: z.strictObject({ Variable: z.array(plainVariable) }),
            OutputVars: z.strictObject({ Variable: z.array(plainVariable) }),
          }),
          Vars: z.strictObject({
            '@accessSpecifier': z.literal('private'),
            Variable: z.array(z.union([plainVariable, arrayVariable])),
          }),
          MainBody: z.strictObject({ BodyContent: z.strictObject({ '@xsi:type': z.literal('ST'), ST: text }) }),
        }),
      }),
    }),
    Instances: z.literal(''),
  }),
});

const LISTS = new Set(['Variable', 'Value']);
/** Elements in the order in which the standard wants them. */
const ORDER = ['FileHeader', 'ContentHeader', 'Types', 'Instances'];

function parsePlcXml(source: string): z.infer<typeof projectSchema> {
  const parser = new XMLParser({
    ignoreAttributes: false,
    attributeNamePrefix: '@',
    parseTagValue: false,
    isArray: (name) => LISTS.has(name),
  });
  let data: unknown;
  try {
    data = parser.parse(source, true);
  } catch (error) {
    throw new TrajectoryError(`This is no XML: ${(error as Error).message}`);
  }
  const read = projectSchema.safeParse(data);
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  throw new TrajectoryError(
    `The structure is not that of IEC 61131-10 at ${issue!.path.join('/')}: ${issue!.message}.`,
  );
}

/**
 * Checks a text against the structure of the standard.
 * @throws TrajectoryError naming the element at fault
 */
export function checkPlcXml(source: string): void {
  parsePlcXml(source);
  const elements = ORDER.map((name) => ({ name, at: source.indexOf(`<${name}`) }))
    .sort((a, b) => a.at - b.at)
    .map(({ name }) => name);
  if (elements.join() !== ORDER.join())
    throw new TrajectoryError(
      `The elements of the project stand in the order ${elements.join(', ')}; wanted is ${ORDER.join(', ')}.`,
    );
}

/**
 * Reads the table back out of XML written by {@link plcXml}, into SI rows.
 * @throws TrajectoryError naming what is missing
 */
export function readPlcXml(source: string, axis: Pick<Trajectory, 'kind' | 'units'>): number[][] {
  const { Variable: variables } = parsePlcXml(source).Project.Types.GlobalNamespace.FunctionBlock.Vars;
  const columns = COLUMNS.flatMap((name) => {
    const found = variables.find((v) => v['@name'] === name);
    if (!found || !('InitialValue' in found)) {
      if (name === 'accelerations') return [];
      throw new TrajectoryError(`The block has no table “${name}”.`);
    }
    return [found.InitialValue.ArrayValue.Value.map((v) => Number(v.SimpleValue['@value']))];
  });
  return rowsOf(columns, axis);
}
