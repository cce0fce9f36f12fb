/** Findings: what is wrong with a project, or worth a look, without being asked. */
import type { Operation } from 'fast-json-patch';
import { MapMemory } from '../map/memory';
import { formatPath, type JsonPath } from '../project/problems';
import type { Project } from '../project/schema';
import type { Naming } from '../query/words';
import { Context } from './context';

/** How much a finding matters. */
export type Level = 'error' | 'warning' | 'note';

/** One thing found: a sentence a person can act on, and where it is. */
export interface Finding {
	rule: string;
	level: Level;
	message: string;
	/** Place in the file. */
	path: string;
	/** Other places it has to do with. */
	related: string[];
	/** A safe change that settles it, as a JSON Patch. */
	patch?: Operation[];
}

/** What a rule tells: its sentence and its place. */
export interface Told {
	message: string;
	path: JsonPath;
	/** What it is about, where several may be told together. */
	name?: string;
	/** Where it matters otherwise than its rule says. */
	level?: Level;
	related?: JsonPath[];
	patch?: Operation[];
}

/** A rule: what it looks for, and what it finds in a project. */
export interface FindingRule {
	id: string;
	level: Level;
	/** What it looks for, and why that matters. */
	about: string;
	/** How it is mended, as an instruction; parts of the interface between asterisks. */
	mend: string;
	find: (context: Context) => Told[];
	/** Of more than so many one line is told in their place. */
	together?: { above: number; as: (told: readonly Told[]) => Told };
}

/** What is left be: a rule at a place, with the reason. Kept under `extras.findings` of the project. */
interface LeftBe {
	rule: string;
	path: string;
	why?: string;
}

function leftBeIn(project: Project): LeftBe[] {
	const found = (project.extras as { findings?: unknown } | undefined)?.findings;
	return Array.isArray(found)
		? found.filter((f): f is LeftBe => typeof f?.rule === 'string' && typeof f?.path === 'string')
		: [];
}

const LEVELS: readonly Level[] = ['error', 'warning', 'note'];

/**
 * What was answered for the findings of a project. Given to the next look at it after an edit, only what the edit touched is asked
 * again.
 */
export class FindingsMemory {
	/** Of the last look. */
	context: Context | null = null;

	/** @param maps those that are asked for something else, too */
	constructor(readonly maps = new MapMemory()) {}
}

/** @returns what the rules find, errors first, in the order of the rules; without what is left be */
export function findingsOf(
	project: Project,
	rules: readonly FindingRule[],
	naming: Naming,
	progress: (rule: string) => void = () => {},
	memory: FindingsMemory = new FindingsMemory(),
): Finding[] {
	const context = new Context(project, naming, memory.context, memory.maps);
	memory.context = context;
	const left = new Set(leftBeIn(project).map((f) => `${f.rule} ${f.path}`));
	const out: Finding[] = [];
	for (const rule of rules) {
		progress(rule.id);
		const isLeft = ({ path }: Told) => left.has(`${rule.id} ${formatPath(path)}`);
		const each = rule.find(context).filter((told) => !isLeft(told));
		const { together } = rule;
		const told = together && each.length > together.above ? [together.as(each)].filter((one) => !isLeft(one)) : each;
		for (const { message, path, level = rule.level, related = [], patch } of told) {
			const at = formatPath(path);
			out.push({
				rule: rule.id,
				level,
				message,
				path: at,
				related: related.map(formatPath),
				...(patch ? { patch } : {}),
			});
		}
	}
	return out.sort((a, b) => LEVELS.indexOf(a.level) - LEVELS.indexOf(b.level));
}
