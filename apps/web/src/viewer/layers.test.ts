// Layers: what is there is used again, what was looked at stays warm, old states go.
import fc from 'fast-check';
import { planLayers, type HeldLayer, type Layer } from './layers';

const layer = (id: string, revision = ''): Layer => ({
  ...{ id, revision, width: 100, height: 100 },
  versionAt: () => '0',
});
const names = (held: readonly (HeldLayer | null)[]): (string | null)[] => held.map((h) => h && `${h.id}${h.revision}`);

it('a picture in another state is made anew; the old state goes once the new one is there', () => {
  const held = [{ id: 'r', revision: '1' }];
  const plan = planLayers(held, [layer('r', '2')]);
  expect(names(plan.shown.map((s) => s.held))).toEqual([null]);
  expect([names(plan.hide), names(plan.remove)]).toEqual([[], ['r1']]);
});

it('a picture in the same state is used again, also after others were looked at', () => {
  const held = [
    { id: 'r', revision: '1' },
    { id: 'm', revision: '' },
  ];
  const plan = planLayers(held, [layer('r', '1')]);
  expect(plan.shown[0]!.held).toBe(held[0]);
  expect([names(plan.hide), names(plan.remove)]).toEqual([['m'], []]);
});

it('of pictures out of sight three stay warm, the ones looked at last, each in its newest state', () => {
  const held = ['a', 'b', 'c', 'd', 'e'].map((id) => ({ id, revision: '1' }));
  const plan = planLayers([...held, { id: 'e', revision: '2' }], [layer('x')]);
  expect(names(plan.hide)).toEqual(['c1', 'd1', 'e2']);
  expect(names(plan.remove)).toEqual(['a1', 'b1', 'e1']);
});

it('everything that is held is shown, hidden or removed, and nothing twice', () => {
  const helds = fc.array(fc.record({ id: fc.constantFrom('a', 'b', 'c', 'd'), revision: fc.constantFrom('1', '2') }));
  const wanted = fc.uniqueArray(fc.constantFrom('a', 'b', 'c', 'd'), { maxLength: 3 });
  fc.assert(
    fc.property(helds, wanted, (held, ids) => {
      const plan = planLayers(
        held,
        ids.map((id) => layer(id, '2')),
      );
      const all = [...plan.shown.flatMap((s) => s.held ?? []), ...plan.hide, ...plan.remove];
      expect(all).toHaveLength(held.length);
      expect(new Set(all).size).toBe(held.length);
      expect(plan.hide.length).toBeLessThanOrEqual(3);
    }),
    { seed: 5 },
  );
});
