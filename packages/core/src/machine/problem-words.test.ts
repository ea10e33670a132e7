import { newAxis, newMachine } from './defaults';
import { addBar } from './draw';
import { problemsInWords } from './problem-words';
import { readMachine } from './read';
import type { Machine } from './schema';
import { boxKind } from '../../test/loose';

/** What is said of a machine after a change that the document does not allow. */
function said(change: (machine: Machine) => void): string {
  const machine = newMachine('Test');
  machine.axes.push({ ...newAxis('linear', [], 2), name: 'Pusher' });
  addBar(machine.mechanism, [0, 0], [0.1, 0], 'Crank');
  machine.loose.materials.push({ id: 'm', name: 'Peat' });
  machine.loose.kinds.push(boxKind({ id: 'k', name: 'Plug', material: 'm' }, 0.02, 0.02, 0.01));
  change(machine);
  const read = readMachine(machine);
  if (read.ok) throw new Error('It is allowed.');
  return problemsInWords(read.problems, machine);
}

describe('what is wrong with an edit', () => {
  test('is said by the name of the thing and the label of the field', () => {
    expect(said((m) => (m.axes[0]!.load.inertia = -1))).toMatch(/^“Pusher”, .*must be at least 0\.$/);
    const body = said((m) => (m.mechanism.bodies[0]!.mass = { given: 'typed', mass: -2, centre: [0, 0], inertia: 1 }));
    expect(body).toMatch(/^“Crank”, mass of the body must be at least 0\.$/);
    expect(said((m) => (m.loose.kinds[0]!.material = 'wood'))).toMatch(/^“Plug”, material names the material “wood”/);
  });

  test('what has no name is counted in its list', () => {
    expect(said((m) => (m.axes[0]!.plan.segments[1]!.duration = -1))).toMatch(/^“Pusher”, segment 2, .* must be/);
  });

  test('no place of the file is told, and the first three are told in full', () => {
    const text = said((m) => {
      for (const segment of m.axes[0]!.plan.segments) segment.duration = -1;
      m.mechanism.gravity.vector[1] = NaN;
    });
    expect(text).not.toMatch(/\[\d|\w\.\w/);
    expect(text).toMatch(/and \d+ more\.$/);
    expect(text.split(';')).toHaveLength(4);
  });

  test('a name that is too long is refused with the limit', () => {
    expect(said((m) => (m.mechanism.bodies[0]!.name = 'x'.repeat(200)))).toMatch(
      /name must be at most \d+ characters long\.$/,
    );
  });
});
