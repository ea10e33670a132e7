import { findLaw, lawCharacteristics, makeLaw, type LawId } from '../law';
import { cycleTime, freeId, type Axis, type Machine } from '../machine';
import type { PlanFinding } from './checks';
import { fitToCycle, insertSegment, scaleTimes, setKneePosition, setSegmentTime } from './edit';
import { planDuration, planKnees, type MotionPlan } from './plan';

/** A way to mend a finding in one step: what a button says, and the machine as it would then be. */
export interface Remedy {
  label: string;
  apply(machine: Machine): Machine;
}

const changeAxis =
  (id: string, change: (axis: Axis, machine: Machine) => Partial<Axis>) =>
  (machine: Machine): Machine => ({
    ...machine,
    axes: machine.axes.map((axis) => (axis.id === id ? { ...axis, ...change(axis, machine) } : axis)),
  });
const changePlan = (id: string, change: (plan: MotionPlan, machine: Machine) => MotionPlan) =>
  changeAxis(id, ({ plan }, machine) => ({ plan: change(plan, machine) }));

/** Laws that are tried in place of another, the quietest last. */
const GENTLE: LawId[] = ['modifiedTrapezoid', 'poly345', 'modifiedSine', 'jerkLimited', 'cycloidal', 'poly4567'];

const withLawIn = (plan: MotionPlan, segmentId: string, id: LawId): MotionPlan => ({
  ...plan,
  segments: plan.segments.map((segment) =>
    segment.id === segmentId && segment.kind === 'move' ? { ...segment, law: { id } } : segment,
  ),
});

/** A hair longer than just enough, so that rounding does not bring the finding back. */
const ample = (value: number) => Number((value * 1.0005).toPrecision(4));

const setCycle =
  (time: number) =>
  (machine: Machine): Machine => ({
    ...machine,
    cycle: machine.cycle.given === 'time' ? { given: 'time', time } : { given: 'rate', rate: 1 / time },
  });

/** What would mend a finding about the motion of an axis; empty where only the engineer can tell. */
export function remediesFor(finding: PlanFinding, axis: Axis, machine: Machine): Remedy[] {
  const T = cycleTime(machine);
  const { source } = axis.motion;
  switch (finding.code) {
    case 'limit': {
      const longer = finding.shortestTime;
      const factor = { velocity: 'cv', acceleration: 'ca', jerk: 'cj' } as const;
      const segment = axis.plan.segments.find(({ id }) => id === finding.segmentId);
      const own =
        segment?.kind === 'move' ? lawCharacteristics(makeLaw(segment.law.id, segment.law.parameters ?? {})) : null;
      // Same stroke, same time: the peak goes with the factor of the law.
      const better =
        own &&
        GENTLE.find(
          (id) =>
            (finding.value / own[factor[finding.quantity]]) *
              lawCharacteristics(makeLaw(id))[factor[finding.quantity]] <=
            finding.limit,
        );
      return [
        ...(longer === null
          ? []
          : [
              {
                label: 'Lengthen',
                apply: changePlan(axis.id, (plan) => setSegmentTime(plan, finding.segmentId, ample(longer))),
              },
            ]),
        ...(better
          ? [
              {
                label: `Take ${findLaw(better)!.name}`,
                apply: changePlan(axis.id, (plan) => withLawIn(plan, finding.segmentId, better)),
              },
            ]
          : []),
      ];
    }
    case 'jump': {
      const index = axis.plan.segments.findIndex(({ id }) => id === finding.segmentId);
      const near = [index, index - 1, axis.plan.segments.length - 1]
        .map((i) => axis.plan.segments[i])
        .filter((segment) => segment?.kind === 'move')
        .filter((segment) => {
          const { cj } = lawCharacteristics(
            makeLaw(
              segment!.law.id,
              (segment as { law: { parameters?: Record<string, number> } }).law.parameters ?? {},
            ),
          );
          return !Number.isFinite(cj);
        });
      const ids = [...new Set(near.map((segment) => segment!.id))].slice(0, finding.inside ? 1 : 2);
      if (ids.length === 0 || finding.order === 0) return [];
      return [
        {
          label: `Take ${findLaw('poly345')!.name}`,
          apply: changePlan(axis.id, (plan) => ids.reduce((p, id) => withLawIn(p, id, 'poly345'), plan)),
        },
      ];
    }
    case 'not-closed': {
      const once: Remedy = { label: 'It runs once', apply: (machine) => ({ ...machine, oneOff: true }) };
      if (source.kind !== 'plan') return [once];
      return [
        {
          label: 'Come back to the start',
          apply: changePlan(axis.id, (plan, { cycle }) => {
            const last = plan.segments.at(-1);
            if (last?.kind === 'move') return setKneePosition(plan, plan.segments.length, plan.start);
            const id = freeId('s', plan.segments.map((segment) => segment.id)); // prettier-ignore
            const left = (cycle.given === 'time' ? cycle.time : 1 / cycle.rate) - planDuration(plan);
            return insertSegment(plan, plan.segments.length, {
              kind: 'move',
              id,
              duration: left > 1e-3 ? left : 0.2,
              to: plan.start,
              law: { id: 'poly345' },
            });
          }),
        },
        once,
      ];
    }
    case 'plan-too-long':
      return [
        { label: 'Lengthen the cycle', apply: setCycle(finding.planTime) },
        ...(source.kind === 'plan'
          ? [{ label: 'Fit to the cycle', apply: changePlan(axis.id, (plan) => fitToCycle(plan, T)) }]
          : []),
      ];
    case 'plan-short':
      return source.kind === 'plan'
        ? [{ label: 'Fit to the cycle', apply: changePlan(axis.id, (plan) => fitToCycle(plan, T)) }]
        : [];
    case 'travel': {
      if (source.kind !== 'plan' || axis.motion.level !== 'position') return [];
      const knee = planKnees(axis.plan).findIndex(({ position }) =>
        finding.end === 'max' ? position > finding.limit : position < finding.limit,
      );
      return knee < 0
        ? []
        : [
            {
              label: 'Stop at the end of travel',
              apply: changePlan(axis.id, (plan) => setKneePosition(plan, knee, finding.limit)),
            },
          ];
    }
    case 'home':
      return [{ label: 'Make it the home position', apply: changeAxis(axis.id, () => ({ home: finding.start })) }];
    case 'seam': {
      if (source.kind !== 'harmonic') return [];
      const whole = Math.max(1, Math.round(source.frequency * T)) / T;
      return [
        {
          label: 'Whole periods',
          apply: changeAxis(axis.id, ({ motion }) => ({
            motion: { ...motion, source: { ...source, frequency: whole } },
          })),
        },
      ];
    }
    case 'over-limit': {
      const order = { velocity: 1, acceleration: 2, jerk: 3 }[finding.quantity];
      const factor = ample((Math.abs(finding.value) / finding.limit) ** (1 / order));
      if (source.kind === 'points' && axis.motion.over === 'time')
        return [
          {
            label: 'Stretch the table',
            apply: changeAxis(axis.id, ({ motion }) => ({
              motion: {
                ...motion,
                source: {
                  ...source,
                  rows: source.rows.map((row) =>
                    row.map((value, c) => (c === 0 ? value * factor : value / factor ** Math.max(0, c - 1))),
                  ),
                },
              },
            })),
          },
        ];
      if (source.kind === 'plan' && axis.motion.over === 'time' && axis.motion.level === 'position')
        return [{ label: 'Stretch the plan', apply: changePlan(axis.id, (plan) => scaleTimes(plan, factor)) }];
      // What hangs on the master or on the cycle slows down with it.
      if (axis.motion.over === 'master' || source.kind === 'follow')
        return [{ label: 'Lengthen the cycle', apply: setCycle(T * factor) }];
      return [];
    }
    case 'break':
      return source.kind === 'points' && source.way !== 'quintic'
        ? [
            {
              label: 'Take a quintic spline',
              apply: changeAxis(axis.id, ({ motion }) => ({
                motion: { ...motion, source: { ...source, way: 'quintic' } },
              })),
            },
          ]
        : [];
    case 'engage': {
      const { engage } = axis.motion;
      if (!engage || engage.lead.how !== 'refuse') return [];
      const over = machine.master.wrap / 6;
      return [
        {
          label: 'Bridge it',
          apply: changeAxis(axis.id, ({ motion }) => ({
            motion: { ...motion, engage: { ...engage, lead: { how: 'bridge', over } } },
          })),
        },
      ];
    }
    default:
      return [];
  }
}
