/** All rules, in the order in which they are told. */

import type { Project } from '../project/schema';
import type { Naming } from '../query/words';
import { ANSWER_RULES } from './answers';
import { type Finding, type FindingRule, type FindingsMemory, findingsOf } from './finding';
import { NAME_RULES } from './names';
import { CHECK_RULES, OBJECT_RULES } from './objects';
import { TIME_RULES } from './time';

/** The rules of findings, each with an id, a level and what it looks for. */
export const FINDING_RULES: readonly FindingRule[] = [
	...NAME_RULES,
	...ANSWER_RULES,
	...OBJECT_RULES,
	...CHECK_RULES,
	...TIME_RULES,
];

/**
 * What is wrong with a project, or worth a look, errors first. Findings that `extras.findings` of the project leaves be are not among them.
 * @param progress told which rule is looked at
 * @param memory of the last look at the same project: what an edit has not touched is not asked again
 */
export const findFindings = (
	project: Project,
	naming: Naming = (_kind, id) => id,
	progress?: (rule: string) => void,
	memory?: FindingsMemory,
): Finding[] => findingsOf(project, FINDING_RULES, naming, progress, memory);
