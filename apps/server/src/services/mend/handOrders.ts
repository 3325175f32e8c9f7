// What is drawn roughly by hand becomes an operation: each kind of order is worked out in a file of its own.
import type { HandOrder, HandOrderOf, NewOperation } from '@blendrak/contract';
import type { Services } from '../context';
import { requireUnsigned } from '../finish/signed';
import { evenPlace } from './evenPlace';
import { fitThing } from './fitThing';
import { matchStroke } from './matchStroke';
import type { Asker, OperationsService } from './operations';
import { pullLine } from './pullLine';

type WorkedOut<K extends HandOrder['kind']> = (
  services: Services,
  mergeId: string,
  order: HandOrderOf<K>,
) => Promise<NewOperation>;

const KINDS: { readonly [K in HandOrder['kind']]: WorkedOut<K> } = {
  fit: fitThing,
  even: evenPlace,
  match: matchStroke,
  straighten: pullLine,
};

/**
 * Carries an order out.
 * @param id name of the change that it becomes
 * @throws RequestError where it cannot be; nothing is done then
 */
export async function carryOutByHand<K extends HandOrder['kind']>(
  services: Services,
  repair: OperationsService,
  mergeId: string,
  order: HandOrderOf<K> & { kind: K },
  asker: Asker,
  id: string,
): Promise<void> {
  requireUnsigned(services, mergeId);
  const operation = await KINDS[order.kind](services, mergeId, order);
  repair.change(mergeId, { id, change: { kind: 'add', operation } }, asker);
}
