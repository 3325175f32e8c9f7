// Planning as the rest of the application sees it.
export { cardPdf } from './cardPdf';
export { changeKit, measureStep, openKit, readTestFrame } from './kitService';
export {
  addPlan,
  attachPlan,
  changePlan,
  listPlans,
  openPlan,
  planError,
  planOfJob,
  removePlan,
  shootPlan,
} from './planService';
