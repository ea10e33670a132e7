import { Command, CommanderError, InvalidArgumentError, Option } from 'commander';
import {
  check,
  events,
  exportMotion,
  EXPORTS,
  law,
  laws,
  lead,
  parts,
  simulateFile,
  size,
  type LeadSettings,
  type RunSettings,
} from './commands';
import { Refusal } from './files';

function points(text: string): number {
  const value = Number(text);
  if (!Number.isInteger(value) || value < 2 || value > 1_000_000)
    throw new InvalidArgumentError('a whole number from 2 to 1000000 is needed.');
  return value;
}

/** Where the command line writes its results; lines go to standard output unless told otherwise. */
export interface Output {
  out(text: string): void;
  err(text: string): void;
}

function quietIfClosed(error: NodeJS.ErrnoException): void {
  if (error.code === 'EPIPE') process.exit(0);
  throw error;
}

const standard: Output = {
  // Whoever reads may have had enough, as head does: no fault of ours.
  out: (text) => void process.stdout.on('error', quietIfClosed).write(text),
  err: (text) => void process.stderr.write(text),
};

/** The options of every command that runs a machine. */
const anyway = () =>
  new Option('--anyway', 'even where it takes more than a run takes unasked, and in spite of errors in the machine');
const variant = () => new Option('--variant <name>', 'run a variant of the machine instead of the machine as it is');
const catalogue = () =>
  new Option('--catalogue <csv>', 'catalogue of the motors chosen (default: the demonstration catalogue)');

function program(output: Output): Command {
  const yoke = new Command('yoke')
    .description(
      'Motion laws, machine cycles and motors on the command line. Files are *.yoke.json, or *.yoke.zip with the shapes.',
    )
    .configureOutput({ writeOut: output.out, writeErr: output.err })
    .showHelpAfterError('(add --help for what is possible)')
    .exitOverride();
  yoke
    .command('laws')
    .description('characteristic values of all laws as CSV: law,Cv,Ca,Cj')
    .action(() => output.out(laws()));
  yoke
    .command('law')
    .description('one law and its derivatives as CSV: tau,f,f1,f2,f3')
    .argument('<id>', 'identifier of the law, as printed by “yoke laws”')
    .option('--points <n>', 'number of evenly spaced points', points, 101)
    .action((id: string, options: { points: number }) => output.out(law(id, options.points)));
  yoke
    .command('check')
    .description('read a machine and check its plans; exit code 1 and the reason where something is wrong')
    .argument('<file>', 'machine document')
    .addOption(variant())
    .addOption(catalogue())
    .addOption(anyway())
    .option('--json', 'print everything found as JSON')
    .action(async (file: string, options: Parameters<typeof check>[1]) => output.out(await check(file, options)));
  yoke
    .command('simulate')
    .description('run one cycle; all channels as CSV in the units of the document')
    .argument('<file>', 'machine document')
    .addOption(variant())
    .addOption(catalogue())
    .addOption(anyway())
    .action(async (file: string, options: RunSettings) => output.out(await simulateFile(file, options)));
  yoke
    .command('lead')
    .description('lead a tool point along its path: what it does there, or what an axis must do for it, as CSV')
    .argument('<file>', 'machine document')
    .option('--tool <name>', 'led tool point; may be left out where there is only one')
    .option('--axis <name>', 'print the motion that this axis must make: time, position, velocity, acceleration')
    .option('--keep <file>', 'write the machine with these motions of its axes to a file')
    .option('--anyway', 'in spite of sharp corners and laws that run beyond the path')
    .action(async (file: string, options: LeadSettings) => output.out(await lead(file, options)));
  yoke
    .command('events')
    .description('run the cue sheet; everything that happens as CSV: time, event, what it came from')
    .argument('<file>', 'machine document')
    .addOption(variant())
    .addOption(catalogue())
    .addOption(anyway())
    .action(async (file: string, options: RunSettings) => output.out(await events(file, options)));
  yoke
    .command('parts')
    .description('run the cue sheet; the ways of all loose parts as CSV: time, part, place, angle')
    .argument('<file>', 'machine document')
    .addOption(variant())
    .addOption(catalogue())
    .addOption(anyway())
    .action(async (file: string, options: RunSettings) => output.out(await parts(file, options)));
  yoke
    .command('size')
    .description('rank the motors of a catalogue for one axis, as CSV or JSON')
    .argument('<file>', 'machine document')
    .option('--axis <name>', 'axis to size; may be left out where there is only one')
    .option('--json', 'print JSON')
    .addOption(variant())
    .addOption(catalogue())
    .addOption(anyway())
    .action(async (file: string, options: Parameters<typeof size>[1]) => output.out(await size(file, options)));
  yoke
    .command('export')
    .description('the motion of one axis for a controller: point table, Structured Text, XML or cam table')
    .argument('<file>', 'machine document')
    .option('--axis <name>', 'axis; may be left out where there is only one')
    .addOption(new Option('--as <file>', 'kind of file').choices(EXPORTS).default('csv'))
    .addOption(new Option('--form <points>', 'what each point holds').choices(['pvt', 'pvat']).default('pvat'))
    .option('--points <n>', 'number of points, evenly spaced', points, 361)
    .addOption(variant())
    .addOption(catalogue())
    .addOption(anyway())
    .action(async (file: string, options: Parameters<typeof exportMotion>[1]) =>
      output.out(await exportMotion(file, options)),
    );
  return yoke;
}

const oneLine = (text: string) =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '')
    .join(' ');

/**
 * Runs the command line.
 * @returns the exit code: 0, or 1 with a one-line reason on standard error
 */
export async function main(argv: readonly string[], output: Output = standard): Promise<number> {
  try {
    await program(output).parseAsync(argv);
    return 0;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 1;
    // Whatever went wrong, it is one line and an exit code: a script that goes on by them must not take it for a result.
    const { name, message } = error as Error;
    if (error instanceof Refusal && error.output !== '') output.out(error.output);
    const expected = error instanceof Refusal || /^(CsvError|RangeError|ContactError|TrajectoryError)$/.test(name);
    output.err(`yoke: ${expected ? '' : `this is a fault of Yoke (${name}): `}${oneLine(message)}\n`);
    if (!expected && process.env.YOKE_DEBUG) output.err(`${(error as Error).stack ?? ''}\n`);
    return 1;
  }
}
