// What can go wrong in the field for people, animals and places. Reminders, not advice: local rules and licensed practice decide.

/** Shown with every card, whatever is ticked. */
export const LOCAL_RULES =
  'Local rules, closures and warnings come first; so does the word of licensed guides and of those responsible for the place. If in doubt, leave the picture.';

/** Cautions by place and work. */
export const CAUTIONS = {
  ice: ['Ice and snow', 'Test before you step; spikes and a partner on ice. Cold drains batteries and numbs hands.'],
  edges: [
    'Edges and railings',
    'Stay behind railings; never step back while looking at the screen. Tether what could fall.',
  ],
  water: [
    'Water and spray',
    'Waves come in sets: watch for ten minutes first. Wet rock is slippery; wipe drops between frames.',
  ],
  tides: ['Tides', 'Read the local tide table; note the latest time to turn back and keep to it.'],
  traffic: ['Traffic', 'Never set up on a road, track or cycle way without leave; wear something visible.'],
  sun: [
    'Sun in the finder',
    'Never look at the sun through an optical finder: it blinds. Lenses focus it on shutter and hand.',
  ],
  flash: [
    'Flash and hot lamps',
    'Not into eyes, not near fuel or fabric; hot lamps burn and set fire. Ask before flashing at people.',
  ],
  animals: ['Animals', 'Keep the distance that leaves them undisturbed; no nests, no bait, no flash at night animals.'],
  protected: ['Protected land', 'Stay on paths; permits may be needed for tripods, drones or entry.'],
  heat: ['Heat', 'Water, shade and a hat; equipment left in the sun or in a car overheats.'],
} as const satisfies Record<string, readonly [title: string, words: string]>;

export type CautionId = keyof typeof CAUTIONS;
