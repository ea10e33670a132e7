import { expect, test } from '@playwright/test';
import { newAxis, type Machine } from '@yoke/core';
import { openNew, stage } from './helpers';

// What is broken is red everywhere behind it, and nothing is ranked or taken away of it without asking.

/** A lift that cues move up; the sheet waits for a sensor that never comes. */
function waitsForEver(machine: Machine): void {
  const axis = { ...newAxis('linear', [], 2), id: 'x', name: 'Lift' };
  axis.motion = { ...axis.motion, source: { kind: 'cues', start: 0 } };
  machine.axes = [axis];
  machine.sequence.sensors = [
    {
      id: 'eye',
      name: 'Eye',
      sensing: { kind: 'button', presses: [] },
      hysteresis: 0,
      onDelay: 0,
      offDelay: 0,
      filter: 0,
      inverted: false,
    },
  ];
  const base = { on: true, join: 'all', choice: null, priority: 0, delay: 0, times: null, timeOut: null } as const;
  machine.sequence.cues = [
    {
      ...base,
      id: 'up',
      name: 'Up',
      after: [],
      when: null,
      action: {
        do: 'move',
        axis: 'x',
        given: 'to',
        value: 0.1,
        time: 0.5,
        law: null,
        velocity: null,
        acceleration: null,
        jerk: null,
      },
    },
    { ...base, id: 'next', name: 'Next', after: ['up'], when: { op: 'on', sensor: 'eye' }, action: { do: 'stop' } },
  ];
}

test('a cycle that waits for ever is red behind Cue; motors and files are given only when asked for', async ({
  page,
}) => {
  await openNew(page, 'Waits', { stage: 'size', change: waitsForEver });
  const note = page.getByRole('alert', { name: 'Broken run' });
  await expect(note).toContainText('Nothing is ranked of this run');
  for (const name of ['Cue', 'Run', 'Size', 'Deliver']) await expect(stage(page, name)).toContainText(/waits/);
  await expect(page.getByRole('region', { name: 'Ranking' }).getByRole('row')).toHaveCount(1);
  await note.getByRole('button', { name: 'Rank by what was run' }).click();
  await expect(note).toContainText('Goes by a broken run');
  await expect(page.getByRole('region', { name: 'Ranking' }).getByRole('row')).not.toHaveCount(1);
  await page.reload();
  await stage(page, 'Deliver').click();
  const channels = page.getByRole('region', { name: 'Channels' });
  await expect(channels.getByRole('button', { name: /^Save \d+ channels/ })).toBeDisabled();
  await channels.getByRole('button', { name: 'Deliver what was run' }).click();
  await expect(channels.getByRole('button', { name: /^Save \d+ channels/ })).toBeEnabled();
});
