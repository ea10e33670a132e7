import type { Coupling } from '@yoke/core';
import { put } from './put';

const gear = (): Coupling => ({
  kind: 'gear', id: 'c1', name: 'Pair', first: 'j1', second: 'j2', radius1: 0.02, radius2: 0.04, inside: false,
}); // prettier-ignore

test('a field of the variant is set; one of another variant is not put there', () => {
  const coupling = gear();
  put(coupling, 'radius1', 0.03);
  expect(coupling).toEqual({ ...gear(), radius1: 0.03 });
  put(coupling, 'slots', 6);
  expect(coupling).toEqual({ ...gear(), radius1: 0.03 });
});
