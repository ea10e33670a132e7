import { turns, type Machine } from '../machine';
import { formatQuantity, type QuantityKind } from '../quantity';
import type { MechanismFinding } from './mechanism-run';

/** What people call a body, joint, coupling, element or axis. */
export function nameIn({ mechanism, axes }: Pick<Machine, 'mechanism' | 'axes'>, id: string): string {
  const { planes, bodies, joints, couplings, elements, paths } = mechanism;
  const lists = [bodies, joints, couplings, elements, paths, axes, planes];
  for (const list of lists) {
    const found = (list as readonly { id: string; name: string }[]).find((item) => item.id === id);
    if (found) return found.name;
  }
  return id === 'ground' ? 'the ground' : id;
}

function listed(names: readonly string[]): string {
  if (names.length <= 1) return names[0] ?? '';
  return `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
}

/** Says a finding about a mechanism in one or two sentences: what, where, and what to do. */
export function explainMechanismFinding(finding: MechanismFinding, machine: Machine): string {
  const name = (id: string) => nameIn(machine, id);
  const show = (value: number, kind: QuantityKind) => formatQuantity(value, kind, machine.units, 4);
  const time = (value: number) => show(value, 'time');
  const axis = (id: string) => machine.axes.find((a) => a.id === id);
  const position = (id: string, value: number) => show(value, axis(id)?.kind === 'linear' ? 'length' : 'angle');
  switch (finding.code) {
    case 'formula':
      return `Formula of “${name(finding.id)}”: ${finding.text}`;
    case 'broken':
      return finding.text;
    case 'not-grounded':
      return `${listed(finding.bodies.map(name))} ${finding.bodies.length > 1 ? 'are' : 'is'} not tied to the ground by any joint: add a pin, slide, guide or weld.`;
    case 'apart': {
      const gaps = finding.gaps.map(({ owner, measure, gap }) => `${name(owner)} stays ${show(gap, measure)} apart`);
      return `The mechanism cannot be assembled: ${listed(gaps)}. Move the points nearer, or change a length.`;
    }
    case 'redundant':
      return `${listed(finding.owners.map(name))} say the same thing: one of them could be left out. Until then the mechanism moves, but how they share the force is not determined.`;
    case 'fighting': {
      const axes = finding.owners.filter(axis);
      const ties = finding.owners.filter((id) => !axis(id));
      return axes.length > 1
        ? `${listed(axes.map(name))} ask for the same freedom: take the drive off one of their joints.`
        : `${listed(axes.map(name))} drives a joint that cannot move: ${listed(ties.map(name))} hold it. Free it, or drive another joint.`;
    }
    case 'free': {
      const bodies = [...new Set(finding.bodies.flat())].slice(0, 4).map(name);
      return `${finding.count === 1 ? 'One freedom is' : `${finding.count} freedoms are`} not driven (${listed(bodies)}): gravity, springs and loads move it. Add a drive to lead it.`;
    }
    case 'no-mass':
      return `${listed(finding.bodies.map(name))} ${finding.bodies.length > 1 ? 'have' : 'has'} no mass, so nothing says how it moves: type a mass and inertia, or drive it.`;
    case 'flat-tensor':
      return `${listed(finding.bodies.map(name))} ${finding.bodies.length > 1 ? 'turn' : 'turns'} out of ${finding.bodies.length > 1 ? 'their' : 'its'} plane with a mass that is typed: the inertia of a flat plate is taken for what is not typed. Type the inertia tensor where that is not so.`;
    case 'shared-load':
      return `${listed(finding.joints.map(name))} share what acts across their plane: rigid bodies cannot say how, so their loads square to it, and the tilting moments, are those of all of them together.`;
    case 'start-velocity': {
      const joint = machine.mechanism.joints.find(({ id }) => id === finding.id);
      const kind = joint && turns(joint) ? 'angularVelocity' : 'velocity';
      return `${name(finding.id)} shall begin with ${show(finding.wanted, kind)}, but drives and joints let it begin with ${show(finding.got, kind)} only: take that off it, or the drive.`;
    }
    case 'start-far':
      return `${name(finding.axisId)} shall begin at ${position(finding.axisId, finding.wanted)}, but the mechanism reaches only ${position(finding.axisId, finding.reached)}. Shown is that pose: change the start, or a length.`;
    case 'unreachable':
      return `At ${time(finding.time)} ${name(finding.axisId)} cannot go past ${position(finding.axisId, finding.position)}${finding.bodies.length > 0 ? `: ${listed(finding.bodies.map(name))} cannot follow` : ''}. The nearest pose is shown; shorten the stroke, or change a length.`;
    case 'singular':
      return `At ${time(finding.time)} the mechanism is in a dead position, where forces have no bound and the way on is not determined: keep away from it, or drive another joint.`;
    case 'stiff':
      return `At ${time(finding.time)} the motion became too quick to follow: look for very stiff springs, very small masses, or a stop that chatters.`;
    case 'no-number':
      return `At ${time(finding.time)} the ${finding.what} is no finite number: the run is shown up to there. Look for masses, springs or forces that are far too large or too small.`;
    case 'past-stop':
      return `At ${time(finding.time)} the drive leads past ${name(finding.id)} (${stopPlace(machine, finding, show)}): shorten the stroke or move the stop.`;
    case 'past-end': {
      const joint = machine.mechanism.joints.find(({ id }) => id === finding.id);
      const path = joint && 'path' in joint ? name(joint.path) : 'its path';
      return `At ${time(finding.time)} ${name(finding.id)} runs off the end of ${path}: lengthen the path or shorten the stroke.`;
    }
    case 'lift-off':
      return `${name(finding.id)} loses contact from ${time(finding.from)} to ${time(finding.to)}: ${show(-finding.force, 'force')} more would be needed at ${time(finding.time)}. Take a stronger spring or more preload, less mass, or a slower cycle.`;
    case 'undercut':
      return `The roller of ${name(finding.id)} is larger than the hollow of its cam (radius ${show(finding.radius, 'length')}) at ${time(finding.time)}: take a smaller roller or a larger base circle.`;
    case 'indexer-radius':
      return `${name(finding.id)}: the driving pin runs on a radius of ${show(finding.radius, 'length')}, but to enter the slots smoothly it needs ${show(finding.wanted, 'length')} (distance of the centres times sin(180°/slots)).`;
    case 'gear-distance':
      return `${name(finding.id)}: the shafts are ${show(finding.distance, 'length')} apart, but the radii of the gears want ${show(finding.wanted, 'length')}. Change a radius or move a shaft; the ratio of the radii counts until then.`;
    case 'corner':
      return `At ${time(finding.time)} ${name(finding.id)} goes round a corner of ${show(finding.angle, 'angle')} at ${show(finding.speed, 'velocity')}: its velocity would have to change at once, which no force can do. Blend the corner, or stop there.`;
    case 'wheel-step':
      return `At ${time(finding.time)} the acceleration of ${name(finding.id)} steps from ${show(finding.before, 'angularAcceleration')} to ${show(finding.after, 'angularAcceleration')} as the pin enters or leaves a slot: forces step with it. More slots or a slower crank make it gentler.`;
    case 'stops-hit':
      return `${name(finding.id)} is hit ${finding.count === 1 ? 'once' : `${finding.count} times`}, first at ${time(finding.time)}.`;
  }
}

function stopPlace(
  { mechanism }: Machine,
  { id, limit, position }: Extract<MechanismFinding, { code: 'past-stop' }>,
  show: (value: number, kind: QuantityKind) => string,
): string {
  const stop = mechanism.elements.find((element) => element.id === id);
  const joint = stop?.kind === 'stop' ? mechanism.joints.find((j) => j.id === stop.joint) : undefined;
  const kind = joint && turns(joint) ? 'angle' : 'length';
  return `it stands at ${show(limit, kind)}, the joint goes to ${show(position, kind)}`;
}
