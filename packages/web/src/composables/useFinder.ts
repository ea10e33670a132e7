import { GROUND, HANDLERS, hasPosition, LOOSE_LISTS } from '@yoke/core';
import { computed, type Ref } from 'vue';
import { useRouter } from 'vue-router';
import { STAGES } from '@/lib/stages';
import { useBoard } from '@/stores/board';
import { useCues } from '@/stores/cues';
import { useLoose } from '@/stores/loose';
import { useMachine } from '@/stores/machine';
import { useSeeing } from '@/stores/seeing';
import { GLOSSARY } from '@/lib/glossary';
import { useAdditions } from './useAdditions';

/** Something of a machine that is found by its name. */
export interface Found {
  key: string;
  /** What it is: a body, a cue, a channel, something to do. */
  kind: string;
  text: string;
  /** Goes there, or does it. */
  go(): void;
}

/** Settings that stand on a stage under a name that one may look for. */
const SETTINGS: readonly (readonly [text: string, stage: string, part?: string])[] = [
  ['Cycle time, rate', 'build', 'axes'],
  ['Sampling step', 'run'],
  ['Gravity', 'build', 'board'],
  ['Width of new bars, centres of mass', 'build', 'board'],
  ['Load: mass, friction, force', 'build', 'axes'],
  ['Gearbox and drive train', 'build', 'axes'],
  ['Limits of velocity, acceleration, jerk', 'build', 'axes'],
  ['Laws of motion, compared', 'move', 'laws'],
  ['Proposals of motions', 'move', 'proposals'],
  ['Master and constants', 'move', 'master'],
  ['A point along a path', 'move', 'paths'],
  ['Cycles, longest run, seed of scatter', 'cue', 'rules'],
  ['Controller: scan, delays', 'cue', 'rules'],
  ['Emergency stop', 'cue', 'rules'],
  ['Step of contacts', 'cue', 'rules'],
  ['Interlocks', 'cue', 'rules'],
  ['Materials, friction, densities', 'cue', 'parts'],
  ['Many runs with scatter', 'cue', 'many'],
  ['Variants and kept runs', 'run'],
  ['Motor, reserves, ranking', 'size'],
  ['Gear ratio', 'size'],
  ['Catalogue of motors', 'size'],
  ['Channels as CSV', 'deliver'],
  ['Table for the controller', 'deliver'],
  ['The machine as a file', 'deliver'],
];

/**
 * What there is in the open machine, as far as it has all words of what is looked for.
 * @param query as typed
 * @param explain shows a word of the glossary
 */
export function useFinder(query: Readonly<Ref<string>>, explain: (word: string) => void) {
  const [machine, board, cues] = [useMachine(), useBoard(), useCues()];
  const [loose, seeing, router] = [useLoose(), useSeeing(), useRouter()];
  const { addABar, addADisc, addAPlane, pin, driveJoint } = useAdditions();
  const to = (stage: string, part?: string) =>
    void router.push({ path: `/machine/${machine.id}/${stage}`, query: part ? { part } : {} });

  const drawn = (kind: string, list: readonly { id: string; name: string }[]): Found[] =>
    list.map(({ id, name }) => ({
      key: `${kind} ${id}`,
      kind,
      text: name,
      go: () => {
        to('build', 'board');
        board.select(id);
      },
    }));
  const things = computed((): Found[] => {
    const document = machine.document;
    if (!document) return [];
    const { mechanism: m, sequence: s } = document;
    return [
      ...document.axes.map((axis): Found => ({
        key: `axis ${axis.id}`,
        kind: 'axis',
        text: axis.name,
        go: () => {
          machine.selectedAxisId = axis.id;
          to('build', 'axes');
        },
      })),
      ...drawn('body', m.bodies),
      ...drawn('joint', m.joints),
      ...drawn('coupling', m.couplings),
      ...drawn('spring, load or stop', m.elements),
      ...drawn('path', m.paths),
      ...s.cues.map((cue): Found => ({
        key: `cue ${cue.id}`,
        kind: 'cue',
        text: cue.name,
        go: () => {
          to('cue', 'sheet');
          cues.open(cue.id);
        },
      })),
      ...s.sensors.map((sensor): Found => ({
        key: `sensor ${sensor.id}`,
        kind: 'sensor',
        text: sensor.name,
        go: () => {
          cues.sensorId = sensor.id;
          to('cue', 'sensors');
        },
      })),
      ...[...s.interlocks, ...s.monitors, ...(s.spacings ?? [])].map(({ id, name }): Found => ({
        key: `rule ${id} ${name}`,
        kind: 'rule',
        text: name,
        go: () => to('cue', 'rules'),
      })),
      ...LOOSE_LISTS.flatMap((list) =>
        (document.loose[list] as readonly { id: string; name: string }[]).map(({ id, name }): Found => ({
          key: `${list} ${id}`,
          kind: HANDLERS[list].one.toLowerCase(),
          text: name,
          go: () => {
            loose.chosen = { list, id };
            to('cue', 'parts');
          },
        })),
      ),
    ];
  });
  const channels = computed((): Found[] =>
    seeing.channels.map(({ id, object, label }) => ({
      key: `channel ${id}`,
      kind: 'channel',
      text: `${object}: ${label}`,
      go: () => {
        seeing.add([id]);
        to('run');
      },
    })),
  );
  const doing = computed((): Found[] => {
    const document = machine.document;
    if (!document) return [];
    const { mechanism: m, axes } = document;
    const act = (text: string, run: () => void): Found => ({
      key: `do ${text}`,
      kind: 'do',
      text,
      go: () => {
        to('build', 'board');
        run();
      },
    });
    const [chosen] = board.selection.filter((id) => m.bodies.some((body) => body.id === id));
    const own = m.bodies.find(({ id }) => id === chosen);
    return [
      act('Add a bar', addABar),
      act('Add a plane', addAPlane),
      act('Add a disc', addADisc),
      ...(own
        ? m.bodies
            .filter(({ id }) => id !== own.id)
            .map(({ id, name }) => act(`Pin ${own.name} to ${name}`, () => pin(own.id, id)))
        : []),
      ...m.bodies.map(({ id, name }) => act(`Pin ${name} to the ground`, () => pin(id, GROUND))),
      ...m.joints
        .filter((joint) => hasPosition(joint) && !axes.some((axis) => axis.joint === joint.id))
        .map((joint) => act(`Drive ${joint.name}`, () => driveJoint(joint))),
    ];
  });
  const places = computed((): Found[] => [
    ...STAGES.map(({ id, label, question }): Found => ({
      key: `stage ${id}`,
      kind: 'stage',
      text: `${label}: ${question}`,
      go: () => to(id),
    })),
    ...SETTINGS.map(([text, stage, part]): Found => ({
      key: `setting ${text}`,
      kind: 'setting',
      text,
      go: () => to(stage, part),
    })),
    ...GLOSSARY.map(({ word }): Found => ({ key: `word ${word}`, kind: 'word', text: word, go: () => explain(word) })),
  ]);

  /** Most that is shown at a time. */
  const MOST = 40;
  const found = computed((): Found[] => {
    const words = query.value.toLowerCase().split(/\s+/).filter(Boolean);
    const all = [...things.value, ...doing.value, ...places.value, ...channels.value];
    if (words.length === 0) return [...doing.value.slice(0, 2), ...things.value.slice(0, 12)];
    const rank = ({ text }: Found) => {
      const lower = text.toLowerCase();
      return lower.startsWith(words[0]!) ? 0 : lower.split(/\W+/).some((part) => part.startsWith(words[0]!)) ? 1 : 2;
    };
    return all
      .filter(({ kind, text }) => words.every((word) => `${kind} ${text}`.toLowerCase().includes(word)))
      .map((one, i) => ({ one, at: rank(one), i }))
      .sort((a, b) => a.at - b.at || a.i - b.i)
      .slice(0, MOST)
      .map(({ one }) => one);
  });
  return { found };
}
