/** Findings: what is wrong with a project, or worth a look, without being asked. */
import type { Operation } from 'fast-json-patch';
import { askMap, type MapResult } from '../map/map';
import { mapGrid } from '../project/map-grid';
import { formatPath, type Path } from '../project/problems';
import type { Project, Query } from '../project/schema';
import { Answerer } from '../query/answer';
import type { Answer } from '../query/types';
import type { Naming } from '../query/words';
import { buildWorld, type World } from '../world/world';

/** Maps with more answers are not asked for a finding. */
const MOST_ASKED = 100_000;

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
	path: Path;
	related?: Path[];
	patch?: Operation[];
}

/** A rule: what it looks for, and what it finds in a project. */
export interface FindingRule {
	id: string;
	level: Level;
	/** What it looks for, and why that matters. */
	about: string;
	find: (context: Context) => Told[];
}

/** A project with its worlds and answers, each made when it is first asked for. */
export class Context {
	readonly moments: readonly (string | null)[];
	private readonly worlds = new Map<string | null, World>();
	private readonly answers = new Map<string, Answer>();
	private asked: MapResult[] | null = null;

	constructor(
		readonly project: Project,
		readonly naming: Naming,
	) {
		this.moments = [null, ...(project.moments ?? []).map((m) => m.id)];
	}

	world(moment: string | null = null): World {
		let world = this.worlds.get(moment);
		if (!world) {
			world = buildWorld(this.project, moment);
			this.worlds.set(moment, world);
		}
		return world;
	}

	/** The full answer of a query at a moment. */
	answer(query: string, moment: string | null): Answer {
		const key = `${moment ?? ''} ${query}`;
		let answer = this.answers.get(key);
		if (!answer) {
			const world = this.world(moment);
			answer = new Answerer(world).explain(world.queryById.get(query) as Query);
			this.answers.set(key, answer);
		}
		return answer;
	}

	/** A query's answers at all moments, the scene as laid out first. */
	all(query: string): Answer[] {
		return this.moments.map((moment) => this.answer(query, moment));
	}

	/** Whether a query that differs a little answers the very same at every moment. */
	sameWithout(query: Query, change: (query: Query) => Query): boolean {
		return this.moments.every((moment) => {
			const world = this.world(moment);
			const own = world.queryById.get(query.id) as Query;
			const [was, is] = [this.answer(query.id, moment), new Answerer(world).winner(change(own))];
			return (
				was.status === is.status &&
				was.selected.map((s) => s.object).join() === is.selected.map((s) => s.object).join() &&
				was.tied.join() === is.tied.join()
			);
		});
	}

	/** The maps that are not too large to be asked for a finding, asked. */
	maps(): MapResult[] {
		this.asked ??= (this.project.maps ?? []).flatMap((map) => {
			const grid = mapGrid(this.project, map);
			return grid && grid.columns * grid.rows * grid.headings <= MOST_ASKED ? [askMap(this.project, map)] : [];
		});
		return this.asked;
	}

	name(kind: 'object' | 'tag' | 'layer', id: string): string {
		return this.naming(kind, id);
	}

	/** Where a query stands in the file. */
	at(query: Query): Path {
		return ['queries', this.project.queries.findIndex((q) => q.id === query.id)];
	}
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

/** @returns what the rules find, errors first, in the order of the rules; without what is left be */
export function findingsOf(
	project: Project,
	rules: readonly FindingRule[],
	naming: Naming,
	progress: (rule: string) => void = () => {},
): Finding[] {
	const context = new Context(project, naming);
	const left = new Set(leftBeIn(project).map((f) => `${f.rule} ${f.path}`));
	const out: Finding[] = [];
	for (const rule of rules) {
		progress(rule.id);
		for (const { message, path, related = [], patch } of rule.find(context)) {
			const at = formatPath(path);
			if (left.has(`${rule.id} ${at}`)) continue;
			out.push({
				rule: rule.id,
				level: rule.level,
				message,
				path: at,
				related: related.map(formatPath),
				...(patch ? { patch } : {}),
			});
		}
	}
	return out.sort((a, b) => LEVELS.indexOf(a.level) - LEVELS.indexOf(b.level));
}
