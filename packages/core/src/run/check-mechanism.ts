import { emptyCurvePoint } from '../geometry';
import { senseOf, type MechanismModel } from '../mechanism';
import type { MechanismFinding, MechanismRun } from './mechanism-run';

/** What can be said about a run once it is there: limits passed, contacts lost, cycles that do not close. */
export function checkMechanismRun(model: MechanismModel, run: MechanismRun, times: Float64Array): MechanismFinding[] {
  const findings: MechanismFinding[] = [];
  const last = run.reached;
  for (const stop of model.stops) {
    const position = run.joints.find(({ id }) => id === stop.joint.joint.id)!.position!;
    const slack = 1e-7 * (stop.coordinate.angular ? 1 : model.scale);
    for (const [limit, side] of [
      [stop.min, -1],
      [stop.max, 1],
    ] as const) {
      if (limit === null) continue;
      const k = position.subarray(0, last).findIndex((value) => side * (value - limit) > slack);
      if (k >= 0)
        findings.push({
          code: 'past-stop',
          severity: 'error',
          time: times[k]!,
          id: stop.id,
          limit,
          position: position[k]!,
        });
    }
  }
  model.joints.forEach(({ joint, guide }, i) => {
    if (!guide) return;
    const { curve } = guide.carried;
    const s = run.q[guide.column]!.subarray(0, last);
    if (!curve.closed) {
      const k = s.findIndex((value) => value < -1e-9 || value > curve.length + 1e-9);
      if (k >= 0) findings.push({ code: 'past-end', severity: 'error', time: times[k]!, id: joint.id });
    }
    const { contact } = run.joints[i]!;
    if (contact) findings.push(...liftOffs(joint.id, contact, times, last));
    if (joint.kind === 'cam' && joint.follower.kind === 'roller') {
      const p = emptyCurvePoint();
      const sense = senseOf(curve);
      const { radius } = joint.follower;
      const k = s.findIndex((value) => {
        curve.at(value, p);
        return 1 + sense * radius * p.curvature <= 0;
      });
      if (k >= 0) {
        curve.at(s[k]!, p);
        findings.push({
          code: 'undercut',
          severity: 'error',
          id: joint.id,
          time: times[k]!,
          radius: 1 / Math.abs(p.curvature),
        });
      }
    }
  });
  return findings;
}

/** Stretches in which a cam would have to pull its follower. */
function liftOffs(id: string, contact: Float64Array, times: Float64Array, count: number): MechanismFinding[] {
  const findings: MechanismFinding[] = [];
  let from = -1;
  let worst = 0;
  for (let k = 0; k <= count; k++) {
    const lifted = k < count && contact[k]! < -1e-9;
    if (lifted && from < 0) {
      from = k;
      worst = k;
    }
    if (lifted && contact[k]! < contact[worst]!) worst = k;
    if (!lifted && from >= 0) {
      findings.push({
        code: 'lift-off',
        severity: 'error',
        id,
        from: times[from]!,
        to: times[k - 1]!,
        force: contact[worst]!,
        time: times[worst]!,
      });
      from = -1;
    }
  }
  return findings;
}
