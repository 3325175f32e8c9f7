// Sorting as the rest of the application sees it.
export {
  addCard,
  changeSorting,
  listCards,
  makeJobOfSet,
  openCard,
  removeCard,
  runSort,
  startSort,
  takeCardFile,
  thumbOf,
} from './cardService';
export { sortPictures, type SortedPictures, type Unreadable } from './sortPictures';
