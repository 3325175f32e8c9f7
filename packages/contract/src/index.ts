// Schemas and types of all that crosses a border.
export * from './card';
export * from './finish';
export * from './geometry';
export * from './journal';
export * from './instruments';
export * from './job';
export * from './merge';
export * from './news';
export * from './operation';
export * from './plan';
export * from './practice';
export * from './problem';
export * from './proposal';
export * from './report';
export * from './sets';
export * from './shoot';
export * from './truth';
