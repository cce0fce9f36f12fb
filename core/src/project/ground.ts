/** What answers stand on, as text: where it is the same in two projects, so are they. */
import { momentChain } from './moment';
import type { Project } from './schema';

/** What may differ without an answer hearing of it, unless it names it. */
const APART = new Set<keyof Project>(['queries', 'moments', 'runs', 'maps', 'checks', 'name', 'extras']);

/** The scene of a project, its moments and its queries, to be held against those of another. */
export class Ground {
	private readonly scene: string;
	private readonly moments = new Map<string, string>();
	private readonly queries: ReadonlyMap<string, string>;

	constructor(private readonly project: Project) {
		this.scene = JSON.stringify(Object.entries(project).filter(([key]) => !APART.has(key as keyof Project)));
		this.queries = new Map(project.queries.map((q) => [q.id, JSON.stringify(q)]));
	}

	private at(moment: string): string {
		let text = this.moments.get(moment);
		if (text === undefined) {
			const known = this.project.moments?.some((m) => m.id === moment);
			text = known ? JSON.stringify(momentChain(this.project, moment)) : '';
			this.moments.set(moment, text);
		}
		return text;
	}

	/** @returns whether these queries answer here, at this moment, as they do in the other project */
	sameAs(other: Ground, moment: string | null, queries: Iterable<string>): boolean {
		if (this.scene !== other.scene) return false;
		if (moment !== null && (this.at(moment) === '' || this.at(moment) !== other.at(moment))) return false;
		for (const id of queries) {
			const query = this.queries.get(id);
			if (query === undefined || query !== other.queries.get(id)) return false;
		}
		return true;
	}
}
