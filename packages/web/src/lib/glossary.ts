/** A word of the trade, or of Yoke, as it is explained where it stands and in docs/glossary.md. */
export interface Word {
  word: string;
  text: string;
  /** Labels of fields and heads that it explains, where they are others than the word. */
  labels?: readonly string[];
}

/** All words, in the order of the alphabet: the one place where they are explained. */
export const GLOSSARY: readonly Word[] = [
  { word: 'Acceleration coefficient', text: 'Peak acceleration of a law for one unit of rise in one unit of time, C a (VDI 2143). The real peak is C a · rise / time².', labels: ['Ca'] }, // prettier-ignore
  { word: 'Axis', text: 'What a drive moves: along a line or about a centre, with its load, its motion, its drive train and its motor. An axis may drive a joint of the mechanism.' }, // prettier-ignore
  { word: 'Blend', text: 'The rounding of a corner of a path, or of the law at a knee, so that velocity does not change at once.', labels: ['Corner radius'] }, // prettier-ignore
  { word: 'Cam', text: 'A body whose outline moves a follower. Held by shape (a groove) it cannot let go; held by a force (a spring, weight) it can, above the speed at which contact is lost.' }, // prettier-ignore
  { word: 'Carrier', text: 'The body on which a joint, path or sensor sits and with which it moves; the ground is one too.', labels: ['Sits on', 'Carried by'] }, // prettier-ignore
  { word: 'Chain', text: 'The row of actions, delays and ways of parts that sets the cycle time. Only what lies on it makes the cycle shorter.' }, // prettier-ignore
  { word: 'Coupling', text: 'What makes one joint follow another by a fixed law: gears, belts, an indexing wheel, a screw.' }, // prettier-ignore
  { word: 'Cue', text: 'One line of the sheet: when something holds, it does something. A cue waits for the cues it comes after and for its condition, acts, and ends when what it did has come to its end.' }, // prettier-ignore
  { word: 'Cycle', text: 'What the machine does again and again. Its time is given, or comes out of the cues; everything is drawn over it.', labels: ['Cycle time'] }, // prettier-ignore
  { word: 'Drive train', text: 'What stands between motor shaft and axis: a gearbox or none, then a screw, belt or rack, or straight on. Each part has a ratio, an inertia, losses and friction.' }, // prettier-ignore
  { word: 'Duty', text: 'What the cycle asks of the motor over its time: torque, speed and their RMS values, dwells counted (IEC 60034-1). Motors are judged by it.' }, // prettier-ignore
  { word: 'Dwell', text: 'A stretch in which the axis stands still.' },
  { word: 'Effort', text: 'Force of a linear axis or torque of a rotary one, along its positive direction.' },
  { word: 'Engage', text: 'To make an axis follow the master, or another axis, from then on: it comes up to speed without a jump and keeps its distance. Leave is the opposite.', labels: ['Follows', 'Up to speed in'] }, // prettier-ignore
  { word: 'Finding', text: 'Something that a check or a run has to say: an error, a warning, or a remark; with its time, and with what can be done.' }, // prettier-ignore
  { word: 'Freedom', text: 'One way in which a mechanism can still move. Drives take freedoms; those left are moved by forces alone.' }, // prettier-ignore
  { word: 'Holding torque', text: 'Torque that keeps the axis from sinking with the motor off, at its worst position. Where it is not zero, a brake is needed.' }, // prettier-ignore
  { word: 'Hysteresis', text: 'How much further something must go for a sensor to go off than for it to go on: it keeps a signal from flickering.' }, // prettier-ignore
  { word: 'Inertia ratio', text: 'Inertia of load and drive train at the motor shaft over that of the rotor. The larger it is, the more the load leads the motor; up to about 10 is common practice.', labels: ['Inertia ratio to', 'inertia'] }, // prettier-ignore
  { word: 'Interlock', text: 'A condition that forbids cues to start while it holds, and stops what they move already where that is wanted.', labels: ['Forbids', 'Stops what runs'] }, // prettier-ignore
  { word: 'Jerk', text: 'Rate of change of acceleration. Where it is limited, less is set swinging.' },
  { word: 'Joint', text: 'What ties two bodies, or a body and the ground: a pin lets turn, a slide lets go along a line, a slot both, a weld neither; a guide follows a path, a cam moves a follower.' }, // prettier-ignore
  { word: 'Knee', text: 'The place where two moves meet. At rest by itself; with a velocity of its own it is passed in motion.' }, // prettier-ignore
  { word: 'Law', text: 'How a move goes from its beginning to its end: its position over its time, from 0 to 1 (law of motion, VDI 2143). Laws differ in their peaks of velocity, acceleration and torque, and in how smooth they are.', labels: ['By the law'] }, // prettier-ignore
  { word: 'Lead', text: 'Way of a screw for one turn. To lead a point: to let it go along a path and compute the motions of the axes from that.', labels: ['Lead per turn'] }, // prettier-ignore
  { word: 'Level', text: 'How far the middle of a body lies over its plane. It sets tilting moments and what is seen in depth, not how the body moves.', labels: ['Level over its plane'] }, // prettier-ignore
  { word: 'Margin', text: 'By how much a motor can do more than the duty asks, as a share of what is asked. It must be at least the reserve that is wanted.' }, // prettier-ignore
  { word: 'Master', text: 'A virtual shaft that turns once a cycle, or as one says. Motions may be given over its angle rather than over time; axes engage to it.' }, // prettier-ignore
  { word: 'Mobility', text: 'How many freedoms the mechanism has, counted from its equations at this pose, and how many of them drives take. None left: every drive leads all of it.' }, // prettier-ignore
  {
    word: 'Peak envelope',
    text: 'Largest torque of a motor at each speed: its peak torque, until the supply voltage runs short.',
  },
  { word: 'Plan', text: 'The motion of an axis as moves and dwells one after the other, each with its time, its place reached and its law.' }, // prettier-ignore
  { word: 'Plane', text: 'Where a mechanism is drawn and moves. It stands on the ground or on a body, and moves with that; planes on bodies make machines that leave one plane.', labels: ['Stands on', 'Seen from'] }, // prettier-ignore
  { word: 'Pose', text: 'How a machine stands: where each of its axes is. A pose can be marked, and a way leads from one to another.', labels: ['Marked poses'] }, // prettier-ignore
  { word: 'Rate', text: 'Of a spring: force for each unit of length. Of a machine: cycles in a unit of time.' },
  { word: 'Reaction', text: 'Force with which a joint holds its second body.' },
  { word: 'Redundant', text: 'A joint that says what another one says already: it adds nothing to the motion, and its reactions cannot be told.' }, // prettier-ignore
  { word: 'Reserve', text: 'Share by which a motor shall be able to do more than the duty asks, in torque and in speed.', labels: ['Torque reserve', 'Speed reserve'] }, // prettier-ignore
  { word: 'Restitution', text: 'Speed after a straight impact over the speed before it: 1 loses nothing, 0 does not come back.', labels: ['Rebound', 'Bounce'] }, // prettier-ignore
  { word: 'RMS torque', text: 'Root of the mean square of the torque over the cycle: what heats the motor, dwells counted.', labels: ['RMS'] }, // prettier-ignore
  { word: 'Sampling step', text: 'Time between two samples of a run. One is proposed that is fine enough for what moves quickest; a coarser one that is typed is told.' }, // prettier-ignore
  { word: 'Scan', text: 'Time in which a controller reads its inputs once: what changes between two scans is seen at the next one.' }, // prettier-ignore
  { word: 'Self-locking', text: 'A drive train that the load cannot move: its efficiency backward is 0.', labels: ['Efficiency backward'] }, // prettier-ignore
  { word: 'Servo move', text: 'A move of a servo drive under limits of velocity, acceleration and jerk: it takes the time that it takes.' }, // prettier-ignore
  {
    word: 'Sink',
    text: 'Where parts leave the machine: those that came where they should are done, others are missed.',
  },
  { word: 'Source', text: 'Where parts come into the machine: at times, at an interval, or when a cue asks for one.' },
  { word: 'Stall torque', text: 'Torque that a motor can give for ever at standstill without growing too hot.' },
  { word: 'Stroke', text: 'The whole way of an axis or of a cylinder, from one end to the other.' },
  { word: 'Trace', text: 'The path that a point of the mechanism draws over the cycle.' },
  { word: 'Transfer', text: 'The way of a machine from one marked pose to another: which axes move, in what order and overlap, how long; written as plans or as cues.', labels: ['Overlap of steps', 'Raised by'] }, // prettier-ignore
  { word: 'Variant', text: 'The machine with something changed (speed, gravity, loads, springs), held against the machine as it is.' }, // prettier-ignore
  { word: 'Velocity coefficient', text: 'Peak velocity of a law for one unit of rise in one unit of time, C v (VDI 2143). The real peak is C v · rise / time.', labels: ['Cv'] }, // prettier-ignore
];

const byLabel = new Map(
  GLOSSARY.flatMap((entry) => [entry.word, ...(entry.labels ?? [])].map((label) => [label.toLowerCase(), entry] as const)), // prettier-ignore
);
/** The word that explains a label, if one does. */
export const wordFor = (label: string): Word | undefined => byLabel.get(label.trim().toLowerCase());

/** The glossary as a file of Markdown. */
export function glossaryText(): string {
  const rows = GLOSSARY.map(({ word, text }) => `**${word}**: ${text}`);
  return `# Glossary\n\nWords of the trade and of Yoke, as the application explains them where they stand (hover, or the key \`W\`).\nWritten by \`npm run glossary\` from packages/web/src/lib/glossary.ts; do not edit here.\n\n${rows.join('\n\n')}\n`;
}
