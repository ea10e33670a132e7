import { Command, CommanderError, InvalidArgumentError, Option } from 'commander';
import { check, events, exportMotion, EXPORTS, law, laws, simulateFile, size, type RunSettings } from './commands';
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

const standard: Output = {
  out: (text) => void process.stdout.write(text),
  err: (text) => void process.stderr.write(text),
};

/** The option of every command that runs a machine. */
const anyway = () => new Option('--anyway', 'run it even where it takes more than a run takes without being asked for');

function program(output: Output): Command {
  const yoke = new Command('yoke')
    .description('Motion laws, machine cycles and motors on the command line. Files are *.yoke.json.')
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
    .addOption(anyway())
    .action(async (file: string, options: RunSettings) => output.out(await check(file, options)));
  yoke
    .command('simulate')
    .description('run one cycle; all channels as CSV in the units of the document')
    .argument('<file>', 'machine document')
    .addOption(anyway())
    .action(async (file: string, options: RunSettings) => output.out(await simulateFile(file, options)));
  yoke
    .command('events')
    .description('run the cue sheet; everything that happens as CSV: time, event, what it came from')
    .argument('<file>', 'machine document')
    .addOption(anyway())
    .action(async (file: string, options: RunSettings) => output.out(await events(file, options)));
  yoke
    .command('size')
    .description('rank the motors of a catalogue for one axis, as CSV or JSON')
    .argument('<file>', 'machine document')
    .option('--axis <name>', 'axis to size; may be left out where there is only one')
    .option('--catalogue <csv>', 'motor catalogue (default: the demonstration catalogue)')
    .option('--json', 'print JSON')
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
    .action((file: string, options: Parameters<typeof exportMotion>[1]) => output.out(exportMotion(file, options)));
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
    const expected = error instanceof Refusal || /^(CsvError|RangeError|ContactError|TrajectoryError)$/.test(name);
    output.err(`yoke: ${expected ? '' : `this is a fault of Yoke (${name}): `}${oneLine(message)}\n`);
    if (!expected && process.env.YOKE_DEBUG) output.err(`${(error as Error).stack ?? ''}\n`);
    return 1;
  }
}
