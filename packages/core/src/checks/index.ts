// Checks that every part of the core shares.
export { badParameter, ParameterError } from './badParameter';
export { requireLength } from './requireLength';
