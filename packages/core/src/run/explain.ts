import { formatQuantity, type UnitSystem } from '../quantity';
import type { RunFinding } from './simulate';

/** Says a finding about a run in one sentence. */
export function explainRunFinding(finding: RunFinding, system: UnitSystem): string {
  const time = (value: number) => formatQuantity(value, 'time', system);
  if (finding.code === 'master') return finding.text;
  return finding.code === 'coarse-step'
    ? `The step of ${time(finding.step)} is coarse for the shortest move of ${time(finding.shortest)}, so peaks may be missed: ${time(finding.proposed)} is proposed.`
    : `A step of ${time(finding.step)} gives too many samples, so the proposed step was taken: choose at least ${time(finding.least)}.`;
}
