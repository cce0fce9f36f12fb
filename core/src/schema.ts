/** For who reads files beside the project with the same care: the parts of its schemas, and problems in its words. */

export { deepEqual } from './project/merge';
export { addIssues, formatProblem, Problems, quoted } from './project/problems';
export type { Project } from './project/schema';
export { ID_PATTERN, item, oneOf, part } from './project/schema-parts';
