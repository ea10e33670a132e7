import { DENSITIES, freeId, type Machine } from '@yoke/core';
import { computed } from 'vue';
import { useMachine } from '@/stores';

/** Stands for a density that no material has. */
export const OTHER_MATERIAL = 'other';

/** Materials by their densities, those of the machine first; what is typed can be kept among them. */
export function useDensities() {
  const machine = useMachine();
  const materials = computed(() => {
    const own = machine.document!.loose.materials.flatMap(({ name, density }) => (density === undefined ? [] : [{ name, density }])); // prettier-ignore
    const all = [...own, ...DENSITIES.filter(({ density }) => !own.some((known) => known.density === density))];
    return [
      ...all
        .filter(({ density }, i) => all.findIndex((other) => other.density === density) === i)
        .map(({ name, density }) => ({ value: String(density), label: name })),
      { value: OTHER_MATERIAL, label: 'Other' },
    ];
  });
  const materialOf = (density: number | null): string =>
    density !== null && materials.value.some(({ value }) => value === String(density)) ? String(density) : OTHER_MATERIAL; // prettier-ignore
  /** Keeps a density among the materials of the machine; answers with what is wrong, or null. */
  const keep = (name: string, density: number): string | null =>
    machine.edit(`material ${name}`, (draft) => {
      const { materials: all } = (draft as Machine).loose;
      const known = all.find((own) => own.name.toLowerCase() === name.trim().toLowerCase());
      if (known) known.density = density;
      else all.push({ id: freeId('m', all.map(({ id }) => id)), name: name.trim(), density }); // prettier-ignore
    });
  return { materials, materialOf, keep };
}
