// Who works here: undo is a person's own, over all pages of a browser and over reloads. Nothing else is known of anybody.
import { newId } from './newId';

const KEY = 'blendrak-person';

/** A name that this browser gave itself once; where it keeps nothing, one for as long as the page lasts. */
export const PERSON_NAME = ((): string => {
  try {
    const known = localStorage.getItem(KEY);
    if (known) return known;
    const made = newId();
    localStorage.setItem(KEY, made);
    return made;
  } catch {
    // Storage may be switched off altogether: then the name is the page's.
    return newId();
  }
})();
