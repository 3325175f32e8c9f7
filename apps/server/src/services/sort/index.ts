// Sorting as the rest of the application sees it.
export { sortPictures, type SortedPictures, type Unreadable } from './sortPictures';
