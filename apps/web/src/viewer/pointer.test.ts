// Mouse, pen and fingers told apart.
import { IDLE, stepPointer, type Gesture, type PointerEffect, type PointerInput, type PointerKind } from './pointer';

/** A hand that remembers what happened for what it did. */
function hand(hasTool: boolean) {
  let gesture: Gesture = IDLE;
  const done: PointerEffect[] = [];
  const feed = (
    phase: PointerInput['phase'],
    id: number,
    kind: PointerKind,
    x: number,
    y: number,
    button = 0,
  ): void => {
    const [next, effects] = stepPointer(
      gesture,
      { phase, id, kind, button, samples: [{ x, y, pressure: kind === 'pen' ? 0.4 : 1 }] },
      hasTool,
    );
    gesture = next;
    done.push(...effects);
  };
  return { feed, done, kinds: () => done.map((e) => e.kind), state: () => gesture.kind };
}

it('the main button works with what is in hand, and moves the picture while nothing is', () => {
  const work = hand(true);
  work.feed('down', 1, 'mouse', 10, 10);
  work.feed('move', 1, 'mouse', 20, 10);
  work.feed('up', 1, 'mouse', 20, 10);
  expect(work.kinds()).toEqual(['begin', 'hover', 'extend', 'finish']);
  const bare = hand(false);
  bare.feed('down', 1, 'mouse', 10, 10);
  bare.feed('move', 1, 'mouse', 25, 4);
  bare.feed('up', 1, 'mouse', 25, 4);
  expect(bare.done).toEqual([{ kind: 'pan', dx: 15, dy: -6 }]);
});

it.each([1, 2])('button %d moves the picture with something in hand, too', (button) => {
  const work = hand(true);
  work.feed('down', 1, 'mouse', 10, 10, button);
  work.feed('move', 1, 'mouse', 20, 12);
  expect(work.done).toEqual([{ kind: 'pan', dx: 10, dy: 2 }]);
});

it('a pen tells how firmly it is pressed, and a hand that rests beside it does nothing', () => {
  const work = hand(true);
  work.feed('down', 1, 'pen', 10, 10);
  work.feed('down', 2, 'touch', 300, 300);
  work.feed('move', 2, 'touch', 320, 300);
  work.feed('move', 1, 'pen', 40, 10);
  work.feed('up', 2, 'touch', 320, 300);
  work.feed('up', 1, 'pen', 40, 10);
  expect(work.kinds()).toEqual(['begin', 'hover', 'extend', 'finish']);
  expect(work.done[2]).toMatchObject({ samples: [{ pressure: 0.4 }] });
});

it('a second finger turns what has hardly begun into a pinch; the picture follows both', () => {
  const work = hand(true);
  work.feed('down', 1, 'touch', 100, 100);
  work.feed('move', 1, 'touch', 103, 100);
  work.feed('down', 2, 'touch', 200, 100);
  expect(work.kinds()).toEqual(['begin', 'hover', 'extend', 'giveUp']);
  work.done.splice(0);
  work.feed('move', 2, 'touch', 300, 100);
  expect(work.done).toEqual([{ kind: 'pinch', dx: 50, dy: 0, factor: 2, about: { x: 200, y: 100 } }]);
  work.done.splice(0);
  work.feed('up', 1, 'touch', 100, 100);
  work.feed('move', 2, 'touch', 310, 130);
  work.feed('up', 2, 'touch', 310, 130);
  // The finger that stays moves the picture; lifting it is no tap.
  expect(work.done).toEqual([{ kind: 'pan', dx: 10, dy: 30 }]);
  expect(work.state()).toBe('idle');
});

it('a stroke that is well under way is not lost to a second finger', () => {
  const work = hand(true);
  work.feed('down', 1, 'touch', 100, 100);
  work.feed('move', 1, 'touch', 160, 100);
  work.feed('down', 2, 'touch', 300, 100);
  work.feed('move', 2, 'touch', 330, 100);
  work.feed('up', 2, 'touch', 330, 100);
  work.feed('up', 1, 'touch', 160, 100);
  expect(work.kinds()).toEqual(['begin', 'hover', 'extend', 'finish']);
});

it('a finger that only touches taps, one that moves does not, a mouse never', () => {
  const tapping = hand(false);
  tapping.feed('down', 1, 'touch', 50, 60);
  tapping.feed('up', 1, 'touch', 53, 60);
  expect(tapping.done).toEqual([{ kind: 'tap', at: { x: 53, y: 60, pressure: 1 } }]);
  const moving = hand(false);
  moving.feed('down', 1, 'touch', 50, 60);
  moving.feed('move', 1, 'touch', 90, 60);
  moving.feed('up', 1, 'touch', 90, 60);
  expect(moving.kinds()).toEqual(['pan']);
  const clicking = hand(false);
  clicking.feed('down', 1, 'mouse', 50, 60);
  clicking.feed('up', 1, 'mouse', 50, 60);
  expect(clicking.done).toEqual([]);
});

it('what the system takes away is given up', () => {
  const work = hand(true);
  work.feed('down', 1, 'touch', 50, 60);
  work.feed('move', 1, 'touch', 90, 60);
  work.feed('cancel', 1, 'touch', 90, 60);
  expect(work.kinds().at(-1)).toBe('giveUp');
  expect(work.state()).toBe('idle');
});
