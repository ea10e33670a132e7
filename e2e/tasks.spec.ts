import { expect, test, type Page } from '@playwright/test';
import { everySamples, runMachine, worldOf } from '@yoke/core';
import { allSaved, openNew, saved } from './helpers';
import { Hand } from './hand';

// Whole jobs as a new user does them, by mouse, each with no more actions than two thirds of what it once took.

test('a four-bar with a load is compared at two speeds, traced and camed, and copied half a turn behind', async ({
  page,
}) => {
  const hand = await Hand.atBoard(page, 'Four-bar');
  await hand.tool('Bar');
  await hand.drag([0, 0], [0, 60]);
  await hand.drag([0, 60], [180, 150]);
  await hand.drag([180, 150], [220, 0]);
  await hand.tool('Ground pin');
  await hand.click(0, 0);
  await hand.click(220, 0);
  await hand.tool('Force');
  await hand.drag([180, 150], [180, 100]);
  await hand.tool('Choose and redraw');
  await hand.listed(/^Pin 3/);
  await hand.button('Drive this joint');
  await hand.stage('Run');
  await hand.button('Add a variant');
  await hand.type('Times as fast', '2');
  await hand.press(page.getByRole('checkbox', { name: 'Variant 1' }));
  await expect(page.getByRole('row').filter({ hasText: 'torque into the mechanism' }).first()).toContainText(/%|×/);
  await expect(page.getByRole('row').filter({ hasText: 'Time of the cycle' })).toContainText('−50.0 %');
  await hand.done('four-bar with load at two speeds', 51);

  hand.actions = 0;
  await hand.button('Traces and cams');
  await hand.choose('Motion of', 'Bar 2.p2');
  await hand.choose('Turns about', 'Ground g1');
  await hand.button('Make the outline');
  await expect(page.getByText('Largest pressure angle')).toBeVisible();
  await hand.button('To the board, leading it');
  await expect(page.getByText(/The cam is on the board/)).toBeVisible();
  await hand.done('traced and camed', 16);
  await hand.key('Control+z');

  hand.actions = 0;
  await hand.stage('Build');
  await hand.listed('Bar 1');
  await hand.type('Across', '300 mm');
  await hand.type('Drive behind by', '180 deg');
  await hand.button('Copy the unit');
  await expect(page.getByLabel('On the board')).toContainText('Bar 6');
  await hand.done('copied half a turn behind', 7);
  await allSaved(page);
  expect((await saved(page, hand.id)).axes).toHaveLength(2);
});

test('an indexing wheel is drawn, coupled and driven', async ({ page }) => {
  const hand = await Hand.atBoard(page, 'Wheel');
  await hand.tool('Disc');
  await hand.drag([0, 0], [50, 0]);
  await hand.drag([150, 0], [250, 0]);
  await hand.tool('Ground pin');
  await hand.click(0, 0);
  await hand.click(150, 0);
  await hand.tool('Choose and redraw');
  await hand.listed(/^Pin 1/);
  await hand.listed(/^Pin 2/, { modifiers: ['Shift'] });
  await hand.button('Indexer');
  await hand.listed(/^Pin 1/);
  await hand.button('Drive this joint');
  await hand.stage('Run');
  await expect(page.getByRole('row').filter({ hasText: 'torque into the mechanism' }).first()).toBeVisible();
  await hand.done('indexing wheel', 20);
});

test('a slide goes there and back by two drives over time', async ({ page }) => {
  const id = await openNew(page, 'There and back', { change: (machine) => void (machine.axes = []) });
  const hand = new Hand(page);
  await hand.button('Cycle, axes and drive trains');
  await hand.button('Add a slide');
  await hand.stage('Cue');
  await hand.button('Add a cue');
  await hand.choose('Do', 'Run a drive');
  await hand.type('For', '1 s');
  await hand.button('Add a cue');
  await hand.choose('Do', 'Run a drive');
  await hand.type('Speed (0 stops)', '-100 mm/s');
  await hand.type('For', '1 s');
  await hand.button('Over time');
  await expect(page.getByRole('region', { name: 'Cues over time' }).locator('.move')).toHaveCount(2);
  await hand.done('slide there and back by two drives', 37);
  await allSaved(page);
  const { cues } = (await saved(page, id)).sequence;
  expect(cues.map(({ action }) => action)).toMatchObject([{ do: 'speed', speed: 0.1, time: 1 }, { do: 'speed', speed: -0.1, time: 1 }]); // prettier-ignore
});

test('servo blocks become a table for the controller', async ({ page }) => {
  await openNew(page, 'Blocks', { change: (machine) => void (machine.axes = []) });
  const hand = new Hand(page);
  await hand.button('Cycle, axes and drive trains');
  await hand.button('Add a slide');
  await hand.stage('Move');
  await hand.choose('Led by', 'Servo moves');
  await hand.stage('Deliver');
  const download = page.waitForEvent('download');
  await hand.button('Save Point table, CSV');
  await download;
  await hand.done('servo blocks to controller table', 29);
});

test('a point goes along a path in five seconds', async ({ page }) => {
  const hand = await Hand.atBoard(page, 'Along a path');
  await hand.tool('Bar');
  await hand.drag([0, 0], [0, 200]);
  await hand.drag([0, 200], [200, 200]);
  await hand.tool('Ground pin');
  await hand.click(0, 0);
  await hand.tool('Choose and redraw');
  for (const pin of [/^Pin 1/, /^Pin 2/]) {
    await hand.listed(pin);
    await hand.button('Drive this joint');
  }
  await hand.tool('Path');
  for (const [x, y] of [[200, 200], [260, 200], [260, 140], [200, 140]] as const) await hand.click(x, y); // prettier-ignore
  await hand.key('Enter');
  await hand.stage('Move');
  await hand.button('Paths');
  await hand.button('Lead a tool point');
  await hand.choose('Law along it', 'One move by a law');
  await hand.type('In', '5 s');
  await hand.button(/Keep as motions/);
  await expect(page.getByText(/now make these motions/).last()).toBeVisible();
  await hand.done('point along a path in five seconds', 52);
  await allSaved(page);
  const { axes } = await saved(page, hand.id);
  expect(axes.every(({ plan }) => plan.segments.length > 1)).toBe(true);
});

/** Where a point of the last body drawn lies, mm. */
async function tipOf(page: Page, id: string, point: number): Promise<[number, number]> {
  await allSaved(page);
  const { mechanism } = await saved(page, id);
  const body = mechanism.bodies.at(-1)!;
  const [x, y] = worldOf(mechanism, { body: body.id, point: body.points.at(point)!.id });
  return [1000 * x, 1000 * y];
}
/** What the machine does as it stands on the server, by the core itself. */
async function ranAs(page: Page, id: string) {
  await allSaved(page);
  const machine = await saved(page, id);
  const { run, record } = await runMachine(machine);
  const way = (part: number, quantity: string) => everySamples(machine, { run, record }, `part:${part}:${quantity}`)!;
  const at = (time: number) => run.times.findIndex((t) => t >= time);
  return { record: record!, way, at };
}

test('parts are dropped into a carrier on a belt and onto a sprung platform', async ({ page }) => {
  const id = await openNew(page, 'Dropped', { stage: 'cue', change: (machine) => void (machine.axes = []) });
  const hand = new Hand(page);
  await hand.button('Loose parts');
  const add = (what: string) => hand.button(`Add: ${what}`);
  const dropAt = async (x: string, y: string, time: string) => {
    await hand.choose('Releases', 'at times');
    await hand.type('At (s)', time);
    await hand.type('x', x);
    await hand.type('y', y);
  };
  await add('Belts');
  await hand.type('To x', '1200 mm');
  await add('Sprung platforms');
  await hand.type('From x', '1400 mm');
  await hand.type('To x', '1600 mm');
  // The carrier: an open box.
  await add('Kinds of part');
  await hand.choose('Shape', 'Outline');
  await hand.type('Corners in mm, in order', '-60 -10, 60 -10, 60 30, 54 30, 54 -4, -54 -4, -54 30, -60 30');
  await hand.choose('Touches with', 'exact pieces');
  await add('Sources');
  await dropAt('70 mm', '12 mm', '0.1');
  await add('Kinds of part');
  await hand.type('Width', '20 mm');
  await hand.type('Height', '20 mm');
  await add('Sources');
  await hand.choose('Gives', 'Kind of part 1');
  await dropAt('270 mm', '80 mm', '1');
  await add('Sources');
  await hand.choose('Gives', 'Kind of part 1');
  await dropAt('1500 mm', '80 mm', '1');
  await hand.button('Rules');
  await hand.type('Longest run', '4 s');
  await hand.stage('Run');
  await expect(page.locator('.part')).not.toHaveCount(0);
  await hand.done('parts dropped into a carrier and onto a platform', 64);
  const { record, way, at } = await ranAs(page, id);
  // In the carrier it goes along; on the platform it lies where it was dropped, and that has given way.
  expect(Math.abs(way(1, 'x')[at(3)]! - way(0, 'x')[at(3)]!)).toBeLessThan(0.055);
  expect(way(1, 'x')[at(3)]! - way(1, 'x')[at(2)]!).toBeCloseTo(0.2, 2);
  expect(way(2, 'x')[at(3.5)]).toBeCloseTo(1.5, 2);
  expect(record.parts.platforms.reduce((most, value) => Math.max(most, Math.abs(value)), 0)).toBeGreaterThan(1e-4);
});

test('a cam leads a follower that a spring holds on it, and the speed at which it lifts off is found', async ({
  page,
}) => {
  const hand = await Hand.atBoard(page, 'Cam');
  await hand.tool('Bar');
  await hand.drag([0, 0], [0, 120]);
  await hand.tool('Slide');
  await hand.drag([0, 0], [0, 60]);
  await hand.button('Drive this joint');
  await hand.tool('Spring');
  await hand.drag([0, 120], [0, 240]);
  await hand.type('Rate', '400 N/m');
  await hand.stage('Run');
  await hand.button('Traces and cams');
  await hand.choose('Motion of', 'Bar 1.p1, as it goes');
  await hand.button('Make the outline');
  await hand.button('To the board, leading it');
  await expect(page.getByText(/The cam is on the board/)).toBeVisible();
  await hand.stage('Build');
  await hand.listed('Cam 1');
  await hand.choose('Held by', 'Force (may lift off)');
  await hand.button('At what speed does it lift off?');
  await expect(page.getByText(/Contact is (lost|kept)/).first()).toBeVisible();
  await hand.done('cam with spring and lift-off speed', 48);
});

test('a gripper picks and places in the plane', async ({ page }) => {
  const hand = await Hand.atBoard(page, 'Pick and place');
  // A bridge along the line, a lift on it that goes down.
  await hand.tool('Bar');
  await hand.drag([0, 200], [60, 200]);
  await hand.tool('Slide');
  await hand.drag([0, 200], [100, 200]);
  await hand.button('Drive this joint');
  await hand.tool('Bar');
  await hand.drag([30, 190], [30, 100]);
  await hand.tool('Slide');
  await hand.drag([30, 190], [30, 120]);
  await hand.choose('Carried by', 'Bar 1');
  await hand.button('Drive this joint');
  const [x, y] = await tipOf(page, hand.id, 1);
  await hand.stage('Cue');
  await hand.button('Loose parts');
  await hand.button('Add: Kinds of part');
  await hand.button('Add: Sources');
  await hand.choose('Releases', 'at times');
  await hand.type('At (s)', '0.05');
  await hand.type('x', `${x} mm`);
  await hand.type('y', `${y - 85} mm`);
  await hand.button('Add: Chutes, ramps, stops');
  await hand.type(
    'Corners in mm; parts touch the left side of the way',
    `${x - 100} ${y - 106}, ${x + 400} ${y - 106}`,
  );
  await hand.button('Add: Grippers and suckers');
  await hand.button('Sheet');
  const moves = [[2, '60 mm'], [2, '0 mm'], [1, '150 mm'], [2, '60 mm'], [2, '0 mm'], [1, '0 mm']] as const; // prettier-ignore
  for (const [axis, to] of moves) {
    await hand.button('Add a cue');
    await hand.choose('Axis', `Drive of Slide ${axis}`);
    await hand.type('Moves to', to);
    // What went by a motion of its own so far is let to the cues.
    if (to === '150 mm') await hand.button('Let cues lead it');
  }
  const grips = [['Drive of Slide 2 moves', 'Take a part'], ['Drive of Slide 2 moves 3', 'Let go']] as const; // prettier-ignore
  for (const [after, what] of grips) {
    await hand.press(page.getByRole('region', { name: 'Cue sheet' }).getByRole('button', { name: after, exact: true }));
    await hand.button('Add a cue');
    await hand.choose('Do', what);
  }
  await expect(page.getByRole('region', { name: 'Cue sheet' }).getByRole('row')).toHaveCount(9);
  await hand.done('gripper pick and place in the plane', 108);
  const { record, way } = await ranAs(page, hand.id);
  const kinds = record.events.map(({ kind }) => kind);
  expect(kinds.indexOf('let-go')).toBeGreaterThan(kinds.indexOf('took'));
  expect(kinds).toContain('took');
  // Put down as far along as the bridge was sent; let go, it may roll a little.
  const { axes } = await saved(page, hand.id);
  expect(axes.map(({ motion }) => motion.source.kind)).toEqual(['cues', 'cues']);
  const places = way(0, 'x').filter(Number.isFinite);
  expect(Math.abs(places.at(-1)! - places[0]! - 0.15)).toBeLessThan(0.006);
});

test('round parts are taken up by a lift that a sensor starts', async ({ page }) => {
  const hand = await Hand.atBoard(page, 'Lift');
  await hand.tool('Bar');
  await hand.drag([200, 60], [280, 60]);
  await hand.tool('Slide');
  await hand.drag([200, 60], [200, 160]);
  await hand.button('Drive this joint');
  const [[x0, y], [x1]] = [await tipOf(page, hand.id, 0), await tipOf(page, hand.id, 1)];
  const { shape } = (await saved(page, hand.id)).mechanism.bodies[0]!;
  const top = y + (shape.kind === 'bar' ? 500 * shape.width : 0);
  const half = top - y;
  await hand.stage('Cue');
  await hand.button('Loose parts');
  await hand.button('Add: Kinds of part');
  await hand.choose('Shape', 'Circle');
  await hand.button('Add: Belts');
  await hand.type('From x', `${x0 - half - 500} mm`);
  await hand.type('From y', `${top + 1} mm`);
  await hand.type('To x', `${x0 - half - 4} mm`);
  await hand.type('To y', `${top + 1} mm`);
  await hand.button('Add: Chutes, ramps, stops');
  await hand.type('Corners in mm; parts touch the left side of the way', `${x1 + half + 3} ${top - 50}, ${x1 + half + 3} ${top + 300}`); // prettier-ignore
  await hand.button('Add: Sinks');
  await hand.type('From x', `${x0 - 60} mm`);
  await hand.type('From y', `${top + 90} mm`);
  await hand.type('To x', `${x1 + 60} mm`);
  await hand.type('To y', `${top + 200} mm`);
  await hand.button('Add: Sources');
  await hand.choose('Releases', 'at times');
  await hand.type('At (s)', '0.1 4');
  await hand.press(page.getByRole('combobox', { name: /^Contact of Bar 1/ }));
  await page.getByRole('combobox', { name: /^Contact of Bar 1/ }).selectOption('hull');
  await hand.button('Sensors');
  await hand.button('Add the sensor');
  const eye = x1 + half - 17;
  for (const [field, value] of [
    ['From x', eye],
    ['From y', top + 3],
    ['To x', eye],
    ['To y', top + 60],
  ] as const)
    await hand.type(field, `${value} mm`);
  await hand.button('Sheet');
  await hand.button('Add a cue');
  await hand.type('Moves to', '100 mm');
  await hand.type('When', 'Light beam comes on');
  await hand.toggle('Waits for the end of its row');
  await hand.button('Add a cue');
  await hand.type('Moves to', '0 mm');
  await hand.button('Rules');
  await hand.type('Ends after cycles', '2');
  await hand.type('Longest run', '12 s');
  await hand.button('Over time');
  await hand.done('round parts taken up by a lift that a sensor starts', 105);
  const { record } = await ranAs(page, hand.id);
  expect(record.end).toBe('cycles');
  expect(record.fates.filter(({ sink }) => sink !== null)).toHaveLength(2);
  expect(record.moves).toHaveLength(4);
});
