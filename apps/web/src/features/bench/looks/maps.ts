// Maps of what the inspection measured, as pictures of their own.
import type { LookMapName } from '@blendrak/contract';
import type { Look } from './look';

function mapLook<Id extends LookMapName>(id: Id, word: string, letter: string, about: string): Look<Id> {
  return {
    id,
    label: () => word,
    key: { label: `Map: ${word.toLowerCase()}`, letter, shown: letter.toUpperCase() },
    place: 'menu',
    about,
    map: id,
    panes: () => [{ layers: [{ of: { map: id } }] }],
  };
}

export const sharpness = mapLook(
  'sharpness',
  'Sharpness',
  't',
  'Light where the merge has all the detail that a frame has, dark where it lost some',
);
export const disagreement = mapLook(
  'disagreement',
  'Disagreement',
  'g',
  'Light where the frames show different things: motion, parallax',
);
export const risk = mapLook(
  'risk',
  'Risk',
  'k',
  'Light where it is worth looking: detail lost, like no frame, or cut where frames differ',
);
