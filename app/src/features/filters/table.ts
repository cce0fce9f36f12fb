/** The layer table as data: what each query does with each layer, and how a cell is changed. */
import type { Project, Query } from '@frelk/core';

export const USES = ['neither', 'chooses', 'stops', 'both'] as const;
export type Use = (typeof USES)[number];

const list = (layers: readonly string[] | 'all' | undefined, all: readonly string[]): string[] =>
	layers === 'all' ? [...all] : [...(layers ?? [])];

/** What a query does with a layer. */
export function rulingOf(query: Query, layer: string): Use {
	const layers = query.selects?.layers ?? 'all';
	const blockers = query.sight?.blockers;
	const chooses = layers === 'all' || layers.includes(layer);
	const stops = blockers === 'all' || (blockers?.includes(layer) ?? false);
	return chooses ? (stops ? 'both' : 'chooses') : stops ? 'stops' : 'neither';
}

export const nextUse = (use: Use, back = false): Use =>
	USES[(USES.indexOf(use) + (back ? USES.length - 1 : 1)) % USES.length] as Use;

/** Writes a cell into a query. @returns false where the query would choose from no layer at all; then nothing is changed */
export function setUse(query: Query, layer: string, use: Use, all: readonly string[]): boolean {
	const chooses = use === 'chooses' || use === 'both';
	const stops = use === 'stops' || use === 'both';
	const layers = list(query.selects?.layers ?? 'all', all);
	const next = all.filter((id) => (id === layer ? chooses : layers.includes(id)));
	if (next.length === 0) return false;
	if (layers.includes(layer) !== chooses) query.selects = { ...query.selects, layers: next };
	const blockers = list(query.sight?.blockers, all);
	if (blockers.includes(layer) !== stops)
		query.sight = { ...query.sight, blockers: all.filter((id) => (id === layer ? stops : blockers.includes(id))) };
	return true;
}

/** Layers as a mask: bit n is the nth layer. */
export function maskFor(
	layers: readonly string[] | 'all' | undefined,
	all: readonly string[],
	absent: 'all' | 'none',
): number {
	const chosen = layers === undefined ? (absent === 'all' ? all : []) : layers === 'all' ? all : layers;
	return chosen.reduce((mask, id) => (mask | (1 << all.indexOf(id))) >>> 0, 0);
}

export const hex = (mask: number): string => `0x${mask.toString(16).toUpperCase().padStart(8, '0')}`;

/** Tags that are asked for but carried by nothing, families considered, and the other way round. */
export function tagUse(project: Project, tag: string): { carriedBy: string[]; askedBy: string[] } {
	const { scene } = project;
	const below = new Set([tag]);
	for (let size = 0; size !== below.size; ) {
		size = below.size;
		for (const t of scene.tags) if (t.under !== undefined && below.has(t.under)) below.add(t.id);
	}
	return {
		carriedBy: scene.objects.filter((o) => o.tags?.some((t) => below.has(t))).map((o) => o.id),
		askedBy: project.queries
			.filter((q) =>
				[
					...(q.selects?.tags?.any ?? []),
					...(q.selects?.tags?.all ?? []),
					...(q.selects?.tags?.none ?? []),
					...(q.outcomes ?? []).flatMap((o) => o.tag ?? []),
				].includes(tag),
			)
			.map((q) => q.id),
	};
}

/** Renames a state wherever it is set or asked: on objects, on the scene, in moments and in conditions. */
export function renameState(draft: Project, of: 'object' | 'scene', from: string, to: string): void {
	const rename = (states: Record<string, boolean | number> | undefined) => {
		if (!states || !(from in states) || to in states) return;
		states[to] = states[from] as boolean | number;
		delete states[from];
	};
	if (of === 'scene') rename(draft.scene.states);
	else for (const object of draft.scene.objects) rename(object.states);
	for (const moment of draft.moments ?? []) {
		if (of === 'scene') rename(moment.states);
		else for (const overlay of Object.values(moment.objects ?? {})) rename(overlay.states);
	}
	for (const query of draft.queries)
		for (const condition of query.selects?.when ?? [])
			if (condition.state === from && (condition.of === 'scene') === (of === 'scene')) condition.state = to;
}

/** States of objects or of the scene, with who has them and who asks for them. */
export function statesOf(
	project: Project,
	of: 'object' | 'scene',
): { state: string; carriedBy: string[]; askedBy: string[] }[] {
	const found = new Map<string, { carriedBy: string[]; askedBy: string[] }>();
	const entry = (state: string) => {
		let e = found.get(state);
		if (!e) {
			e = { carriedBy: [], askedBy: [] };
			found.set(state, e);
		}
		return e;
	};
	if (of === 'scene') for (const state of Object.keys(project.scene.states ?? {})) entry(state);
	else
		for (const o of project.scene.objects)
			for (const state of Object.keys(o.states ?? {})) entry(state).carriedBy.push(o.id);
	for (const q of project.queries)
		for (const c of q.selects?.when ?? [])
			if ((c.of === 'scene') === (of === 'scene') && !entry(c.state).askedBy.includes(q.id))
				entry(c.state).askedBy.push(q.id);
	return [...found].map(([state, e]) => ({ state, ...e })).sort((a, b) => a.state.localeCompare(b.state));
}
