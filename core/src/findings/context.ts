/** A project as the rules of findings see it: with its worlds and answers, each made when it is first asked for, or taken over. */
import type { MapResult } from '../map/map';
import type { MapMemory } from '../map/memory';
import { Dependencies } from '../project/dependencies';
import { mapGrid } from '../project/map-grid';
import type { JsonPath } from '../project/problems';
import type { Project, Query } from '../project/schema';
import { Answerer } from '../query/answer';
import type { Answer } from '../query/types';
import type { Naming } from '../query/words';
import { buildWorld, type World } from '../world/world';

/** Maps with more answers are not asked for a finding. */
const MAX_ASKED = 100_000;

/** What was asked about one query at one moment. */
interface Asked {
	query: string;
	moment: string | null;
	answer: Answer | null;
	/** Whether the query changed a little, as JSON, answers the same. */
	same: Map<string, boolean>;
}

/** A project with its worlds and answers, each made when it is first asked for. */
export class Context {
	readonly moments: readonly (string | null)[];
	private readonly worlds = new Map<string | null, World>();
	private readonly asked = new Map<string, Asked>();
	private readonly ground: Dependencies;
	/** How many answers were made; what was taken over does not count. */
	made = 0;

	/**
	 * @param before of the project before an edit: what stands on what the edit left as it was is taken over
	 * @param mapMemory of maps asked before, for whatever
	 */
	constructor(
		readonly project: Project,
		readonly naming: Naming,
		before: Context | null,
		private readonly mapMemory: MapMemory,
	) {
		this.moments = [null, ...(project.moments ?? []).map((m) => m.id)];
		this.ground = new Dependencies(project);
		mapMemory.turnTo(project, this.ground);
		if (!before) return;
		for (const [key, one] of before.asked)
			if (this.ground.sameAs(before.ground, one.moment, [one.query])) this.asked.set(key, one);
	}

	world(moment: string | null = null): World {
		let world = this.worlds.get(moment);
		if (!world) {
			world = buildWorld(this.project, moment);
			this.worlds.set(moment, world);
		}
		return world;
	}

	private entryFor(query: string, moment: string | null): Asked {
		const key = `${moment ?? ''} ${query}`;
		let one = this.asked.get(key);
		if (!one) {
			one = { query, moment, answer: null, same: new Map() };
			this.asked.set(key, one);
		}
		return one;
	}

	/** The full answer of a query at a moment. */
	answer(query: string, moment: string | null): Answer {
		const one = this.entryFor(query, moment);
		if (!one.answer) {
			const world = this.world(moment);
			one.answer = new Answerer(world).explain(world.queryById.get(query) as Query);
			this.made++;
		}
		return one.answer;
	}

	/** A query's answers at all moments, the scene as laid out first. */
	all(query: string): Answer[] {
		return this.moments.map((moment) => this.answer(query, moment));
	}

	/** Whether a query that differs a little answers the very same at every moment. */
	sameWithout(query: Query, change: (query: Query) => Query): boolean {
		return this.moments.every((moment) => {
			const world = this.world(moment);
			const changed = change(world.queryById.get(query.id) as Query);
			const { same } = this.entryFor(query.id, moment);
			const key = JSON.stringify(changed);
			let is = same.get(key);
			if (is === undefined) {
				is = alike(this.answer(query.id, moment), new Answerer(world).winner(changed));
				this.made++;
				same.set(key, is);
			}
			return is;
		});
	}

	/** The maps that are not too large to be asked for a finding, asked. */
	maps(): MapResult[] {
		return (this.project.maps ?? []).flatMap((map) => {
			const grid = mapGrid(this.project, map);
			if (!grid || grid.columns * grid.rows * grid.headings > MAX_ASKED) return [];
			return [this.mapMemory.result(map)];
		});
	}

	name(kind: 'object' | 'tag' | 'layer', id: string): string {
		return this.naming(kind, id);
	}

	/** Where a query stands in the file. */
	at(query: Query): JsonPath {
		return ['queries', this.project.queries.findIndex((q) => q.id === query.id)];
	}
}

/** Whether two answers select alike. */
const alike = (
	a: Pick<Answer, 'status' | 'selected' | 'tied'>,
	b: Pick<Answer, 'status' | 'selected' | 'tied'>,
): boolean =>
	a.status === b.status &&
	a.selected.map((s) => s.object).join() === b.selected.map((s) => s.object).join() &&
	a.tied.join() === b.tied.join();
