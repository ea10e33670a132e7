import { emptyCurvePoint, pathCorners } from '../geometry';
import { senseOf, type MechanismModel } from '../mechanism';
import type { MechanismFinding, MechanismRun } from './mechanism-run';

/**
 * What can be said about a run once it is there: limits passed, contacts lost, cycles that do not close.
 * @param acts whether a stop that is switched acts at a time in s
 */
export function checkMechanismRun(
  model: MechanismModel,
  run: MechanismRun,
  times: Float64Array,
  acts: (stop: string, time: number) => boolean,
): MechanismFinding[] {
  const findings: MechanismFinding[] = [];
  const last = run.reached;
  findings.push(...wheelSteps(model, run, times));
  for (const stop of model.stops) {
    const position = run.joints.find(({ id }) => id === stop.joint.joint.id)!.position!;
    const slack = 1e-7 * (stop.coordinate.angular ? 1 : model.scale);
    for (const [limit, side] of [
      [stop.min, -1],
      [stop.max, 1],
    ] as const) {
      if (limit === null) continue;
      const k = position
        .subarray(0, last)
        .findIndex((value, at) => side * (value - limit) > slack && (!stop.switched || acts(stop.id, times[at]!)));
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
    const round = cornerPassed(model, run, times, i);
    if (round) findings.push(round);
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

/** The first corner of its path round which a guide is led in motion: what rides on it would change its velocity at once. */
function cornerPassed(
  model: MechanismModel,
  run: MechanismRun,
  times: Float64Array,
  i: number,
): MechanismFinding | null {
  const { joint, guide } = model.joints[i]!;
  if (!guide || !('path' in joint) || joint.kind !== 'guide') return null;
  const shape = model.mechanism.paths.find(({ id }) => id === joint.path)!.shape;
  const corners = pathCorners(shape);
  if (corners.length === 0) return null;
  const { length, closed } = guide.carried.curve;
  const s = run.q[guide.column]!;
  const slow = 1e-6 * model.scale;
  for (let k = 1; k < run.reached; k++) {
    const speed = (s[k]! - s[k - 1]!) / Math.max(times[k]! - times[k - 1]!, 1e-12);
    if (Math.abs(speed) < slow) continue;
    const [low, high] = [Math.min(s[k - 1]!, s[k]!), Math.max(s[k - 1]!, s[k]!)];
    for (const { at, angle } of corners) {
      const place = closed ? at + length * Math.ceil((low - at) / length) : at;
      if (place < low || place >= high) continue;
      return {
        code: 'corner',
        severity: 'error',
        id: joint.id,
        time: times[k]!,
        angle: Math.abs(angle),
        speed: Math.abs(speed),
      };
    }
  }
  return null;
}

/** The largest step of the acceleration of each indexing wheel: its slots meet the pin along their way, but not gently. */
function wheelSteps(model: MechanismModel, run: MechanismRun, times: Float64Array): MechanismFinding[] {
  return model.couplings.flatMap(({ coupling }): MechanismFinding[] => {
    if (coupling.kind !== 'indexer') return [];
    const change = run.joints.find(({ id }) => id === coupling.second)?.change;
    if (!change) return [];
    let worst = 0;
    for (let k = 1; k < run.reached; k++) {
      const step = (at: number) => Math.abs(change[at]! - change[at - 1]!);
      if (times[k] === times[k - 1] && (worst === 0 || step(k) > step(worst))) worst = k;
    }
    if (worst === 0 || !(Math.abs(change[worst]! - change[worst - 1]!) > 1e-6)) return [];
    const [before, after] = [change[worst - 1]!, change[worst]!];
    return [{ code: 'wheel-step', severity: 'warning', id: coupling.id, time: times[worst]!, before, after }];
  });
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
