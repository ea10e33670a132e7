import {
  machineSkins,
  solidFile,
  solidMesh,
  toldClearances,
  unknownClearance,
  watchedOver,
  type BodySolid,
  type Run,
  type ToldFinding,
} from '@yoke/core';
import type { OpenedMachine } from './files';

/**
 * What is wrong with the clearances that a machine watches: on its true shapes where these came along, and that they are
 * not known where they did not.
 */
export async function clearanceFindings({ machine, geometry }: OpenedMachine, run: Run): Promise<ToldFinding[]> {
  const { clearances, mechanism } = machine;
  if (!clearances || clearances.watches.length === 0 || !run.mechanism) return [];
  const lacking = (mechanism.shapes?.files ?? []).filter(({ hash }) => !geometry.has(hash));
  if (lacking.length > 0)
    return [unknownClearance(machine, `Clearances are not known: the shapes of ${lacking.map(({ name }) => name).join(', ')} are not in this file. Save the machine with its shapes in Deliver (*.yoke.zip), and name that.`)]; // prettier-ignore
  const [{ unpackGeometry }, { ClearanceSolid }] = await Promise.all([
    import('@yoke/core/geometry-file'),
    import('@yoke/core/solid'),
  ]);
  const kept = new Map(
    await Promise.all([...geometry].map(async ([hash, content]) => [hash, await unpackGeometry(content)] as const)),
  );
  const meshOf = (solid: BodySolid) => {
    const own = solidFile(solid);
    const hash = own && mechanism.shapes?.files.find(({ id }) => id === own.file)?.hash;
    return solidMesh(solid, (own && kept.get(hash ?? '')?.get(own.key)) ?? null);
  };
  const skins = machineSkins(mechanism, meshOf);
  if (!skins) return [unknownClearance(machine, 'Clearances are not known: solids are missing in the shapes of this file. Import their file anew, and save the machine again.')]; // prettier-ignore
  const solids = new Map([...skins].map(([id, mesh]) => [id, new ClearanceSolid(mesh)]));
  return toldClearances(machine, watchedOver(mechanism, run, clearances, solids));
}
