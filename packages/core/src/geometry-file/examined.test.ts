import { meshVolume, insideOut, joined, ownMesh, type Mesh } from '../solid';
import { examined, unpackGeometry, type ImportedSolid } from './index';

const box = (x: number, at = 0): Mesh => {
  const mesh = ownMesh({ kind: 'box', size: [x, 0.1, 0.1] }, 1e-4);
  return { points: mesh.points.map((own, i) => own + (i % 3 === 0 ? at : 0)), triangles: mesh.triangles };
};
const solid = (name: string, mesh: Mesh, path: string[] = []): ImportedSolid => ({
  name,
  path,
  colour: '#123456',
  mesh,
});

test('solids are told by branch and name, weighed as they are kept, and found again by their keys', async () => {
  const shares: number[] = [];
  const file = await examined(
    { solids: [solid('Plate', box(0.2), ['Head', 'Left']), solid('Plate', box(0.3), ['Head', 'Right'])], metres: true, notes: ['One line: left out.'] }, // prettier-ignore
    (share) => shares.push(share),
  );
  expect(file.solids.map(({ key }) => key)).toEqual(['Head / Left / Plate', 'Head / Right / Plate']);
  expect(file.notes).toEqual(['One line: left out.']);
  expect(shares.at(-1)).toBe(1);
  const kept = await unpackGeometry(file.content);
  for (const { key, holds, problem } of file.solids) {
    expect(problem).toBeNull();
    // What is told is of what is kept, to the last bit.
    expect(meshVolume(kept.get(key)!)).toEqual(holds);
  }
  expect(file.solids[0]!.holds!.volume).toBeCloseTo(0.002, 9);
});

test('the digest goes by the geometry alone: another length is another one, another name is not', async () => {
  const told = await examined({ solids: [solid('a', box(0.2)), solid('b', box(0.2)), solid('c', box(0.2001))], metres: true, notes: [] }); // prettier-ignore
  const [a, b, c] = told.solids.map(({ digest }) => digest);
  expect(a).toBe(b);
  expect(a).not.toBe(c);
});

test('an open skin holds nothing and says so; one inside out is turned; one through itself is doubted', async () => {
  const open = box(0.2);
  const told = await examined({
    solids: [
      solid('open', { points: open.points, triangles: open.triangles.slice(3) }),
      solid('turned', insideOut(box(0.2))),
      solid('crossed', joined([box(0.2), { points: box(0.2, 0.1).points.map((own, i) => own + (i % 3 === 1 ? 0.03 : 0)), triangles: box(0.2).triangles }])), // prettier-ignore
    ],
    metres: true,
    notes: [],
  });
  const [first, second, third] = told.solids;
  expect(first).toMatchObject({ holds: null, problem: expect.stringMatching(/open at 3 edges/) });
  expect(second).toMatchObject({ problem: null });
  expect(second!.holds!.volume).toBeCloseTo(0.002, 9);
  expect(third!.problem).toMatch(/crosses itself/);
});

test('what was kept and is broken says what to do', async () => {
  await expect(unpackGeometry(new Uint8Array([1, 2, 3]))).rejects.toThrow(/import the file anew/);
});
