/** What answers stand on, as text: where it is the same in two projects, so are they. */
import { momentChain } from './moment';
import type { Project } from './schema';

/** What may differ without an answer hearing of it, unless it names it. */
const APART = new Set<keyof Project>(['queries', 'moments', 'runs', 'maps', 'checks', 'name', 'extras']);

/** The queries whose hits a query starts from or is aimed at, all the way down; itself first. */
function withHits(project: Project, id: string): string[] {
	const ids = [id];
	const look = (value: unknown): void => {
		if (typeof value !== 'object' || value === null) return;
		for (const [key, part] of Object.entries(value))
			if (key === 'hitOf' && typeof part === 'string') {
				if (!ids.includes(part)) ids.push(part);
			} else look(part);
	};
	for (let i = 0; i < ids.length; i++) look(project.queries.find((q) => q.id === ids[i]));
	return ids;
}

/** The scene of a project, its moments and its queries, to be held against those of another. */
export class Dependencies {
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

	/** @returns whether these queries, and those whose hits they use, are asked here at this moment as in the other project */
	sameAs(other: Dependencies, moment: string | null, queries: Iterable<string>): boolean {
		if (this.scene !== other.scene) return false;
		if (moment !== null && (this.at(moment) === '' || this.at(moment) !== other.at(moment))) return false;
		for (const asked of queries)
			for (const id of withHits(this.project, asked)) {
				const query = this.queries.get(id);
				if (query === undefined || query !== other.queries.get(id)) return false;
			}
		return true;
	}
}
