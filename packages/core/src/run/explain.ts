import { formatNumber, formatQuantity, type UnitSystem } from '../quantity';
import type { RunFinding } from './simulate';

/** Says a finding about a run in one sentence. */
export function explainRunFinding(finding: RunFinding, system: UnitSystem): string {
  const time = (value: number) => formatQuantity(value, 'time', system);
  if (finding.code === 'master') return finding.text;
  if (finding.code === 'step-refused')
    return `A step of ${time(finding.step)} gives too many samples, so the proposed step was taken: choose at least ${time(finding.least)}.`;
  const { step, bend, proposed } = finding;
  const why = `efforts or accelerations bend by ${formatNumber(bend * 100, 2)} % of their peak between two samples (most at ${time(finding.time)}), so peaks and energies are wrong by about a quarter of that or more`;
  const remedy =
    proposed === null ? 'Look at a shorter run, or type a finer step.' : `A step of ${time(proposed)} is proposed.`;
  return `The step of ${time(step)} is coarse: ${why}. ${remedy}`;
}
