// Sorting as the rest of the application sees it.
export { addCard, listCards, openCard, removeCard, requireCard, startSort, takeCardFile, thumbOf } from './cardService';
export { changeSorting, makeJobOfSet } from './editCard';
export { runSort } from './sortCard';
export { sortPictures, type SortedPictures, type Unreadable } from './sortPictures';
