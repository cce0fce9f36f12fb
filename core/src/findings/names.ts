/** Rules about what is declared and what is asked for: tags, layers, sides, states. */
import { didYouMean } from '../project/problems';
import type { Project, Query } from '../project/schema';
import type { Context } from './context';
import type { FindingRule, Told } from './finding';

/** Tags a query asks for, with their places under it. */
function tagsAsked(query: Query): { tag: string; path: (string | number)[] }[] {
	const { any = [], all = [] } = query.selects?.tags ?? {};
	return [
		...any.map((tag, i) => ({ tag, path: ['selects', 'tags', 'any', i] })),
		...all.map((tag, i) => ({ tag, path: ['selects', 'tags', 'all', i] })),
		...(query.outcomes ?? []).flatMap(({ tag }, i) =>
			tag === undefined ? [] : [{ tag, path: ['outcomes', i, 'tag'] }],
		),
	];
}

/** Tags that something carries at some moment, with all they stand under. */
function carried(context: Context): Set<string> {
	const out = new Set<string>();
	for (const moment of context.moments)
		for (const o of context.world(moment).objects) for (const tag of o.tags) out.add(tag);
	return out;
}

const conditionsOf = (project: Project) =>
	project.queries.flatMap((query, i) => [
		...(query.selects?.when ?? []).map((when, k) => ({ query, when, path: ['queries', i, 'selects', 'when', k] })),
		...(query.outcomes ?? []).flatMap((outcome, j) =>
			(outcome.when ?? []).map((when, k) => ({ query, when, path: ['queries', i, 'outcomes', j, 'when', k] })),
		),
	]);

/** States known of objects, of one object, or of the scene, at any moment. */
function statesOf(context: Context, of: 'target' | 'scene' | { object: string }): Set<string> {
	const out = new Set<string>();
	for (const moment of context.moments) {
		const world = context.world(moment);
		if (of === 'scene') for (const state of Object.keys(world.states)) out.add(state);
		else
			for (const o of world.objects)
				if (of === 'target' || o.id === of.object) for (const state of Object.keys(o.states)) out.add(state);
	}
	const { effects = [], runs = [] } = context.project;
	for (const { do: lines } of effects)
		for (const line of lines) {
			const here = of === 'scene' ? line.of === 'scene' : line.of !== 'scene';
			if (here) for (const state of Object.keys({ ...line.set?.states, ...line.add })) out.add(state);
		}
	for (const run of runs)
		for (const track of run.tracks ?? [])
			if ((track.scene === true) === (of === 'scene'))
				for (const key of track.keys) for (const state of Object.keys(key.states ?? {})) out.add(state);
	return out;
}

export const NAME_RULES: readonly FindingRule[] = [
	{
		id: 'tag-carried-by-nothing',
		level: 'warning',
		about: 'A query asks for a tag that no object carries at any moment: often another spelling was meant.',
		mend: 'Correct the spelling, or give the tag to what should have it.',
		find: (context) => {
			const have = carried(context);
			return context.project.queries.flatMap((query) =>
				tagsAsked(query)
					.filter(({ tag }) => !have.has(tag))
					.map(({ tag, path }): Told => {
						const asked = `“${query.name ?? query.id}” asks for the tag ${context.name('tag', tag)}`;
						return {
							message: `${asked}, which nothing carries${didYouMean(tag, have)}`,
							path: [...context.at(query), ...path],
						};
					}),
			);
		},
	},
	{
		id: 'tag-unused',
		level: 'note',
		about: 'A tag is declared that nothing carries and nothing asks for.',
		mend: 'Delete the tag.',
		find: (context) => {
			const { project } = context;
			const have = carried(context);
			const asked = new Set(
				project.queries.flatMap((q) => [...tagsAsked(q).map((t) => t.tag), ...(q.selects?.tags?.none ?? [])]),
			);
			return project.scene.tags.flatMap((tag, i) =>
				have.has(tag.id) || asked.has(tag.id) || project.scene.tags.some((t) => t.under === tag.id)
					? []
					: [
							{
								message: `The tag ${context.name('tag', tag.id)} is carried by nothing and asked for by nothing`,
								path: ['scene', 'tags', i],
							},
						],
			);
		},
	},
	{
		id: 'layer-unused',
		level: 'note',
		about: 'A layer holds no object and no shape at any moment: one of 32 bits is spent on nothing.',
		mend: 'Delete the layer.',
		find: (context) => {
			const used = new Set<string>();
			for (const moment of context.moments)
				for (const { def } of context.world(moment).objects) {
					used.add(def.layer);
					for (const shape of def.shapes ?? []) used.add(shape.layer ?? def.layer);
				}
			return context.project.scene.layers.flatMap((layer, i) =>
				used.has(layer.id)
					? []
					: [{ message: `Nothing is on the layer ${context.name('layer', layer.id)}`, path: ['scene', 'layers', i] }],
			);
		},
	},
	{
		id: 'side-unused',
		level: 'note',
		about: 'A side is declared that no object is on at any moment.',
		mend: 'Delete the side.',
		find: (context) => {
			const used = new Set(context.moments.flatMap((m) => context.world(m).objects.map((o) => o.def.side)));
			return (context.project.scene.sides ?? []).flatMap((side, i) =>
				used.has(side.id)
					? []
					: [{ message: `No object is on the side ${side.name ?? side.id}`, path: ['scene', 'sides', i] }],
			);
		},
	},
	{
		id: 'state-unasked',
		level: 'note',
		about: 'Objects have a state that no query asks for and no effect changes: it decides nothing here.',
		mend: 'Ask for it in a condition, delete it, or ignore it where the game alone reads it.',
		find: ({ project }) => {
			const asked = new Set(
				conditionsOf(project)
					.filter(({ when }) => when.of !== 'scene')
					.map(({ when }) => when.state),
			);
			for (const { do: lines } of project.effects ?? [])
				for (const line of lines)
					for (const state of Object.keys({ ...line.set?.states, ...line.add })) asked.add(state);
			const told = new Set<string>();
			return project.scene.objects.flatMap((object, i) =>
				Object.keys(object.states ?? {}).flatMap((state): Told[] => {
					if (asked.has(state) || told.has(state)) return [];
					told.add(state);
					return [
						{
							message: `The state “${state}” is asked for by no query`,
							path: ['scene', 'objects', i, 'states', state],
						},
					];
				}),
			);
		},
	},
	{
		id: 'state-unknown',
		level: 'warning',
		about: 'A condition asks for a state that nothing has at any moment: a missing state equals both no and 0.',
		mend: 'Correct the spelling, or give the state to what should have it.',
		find: (context) =>
			conditionsOf(context.project).flatMap(({ query, when, path }): Told[] => {
				const of = when.of === 'asker' ? { object: query.asker ?? '' } : when.of;
				const known = statesOf(context, of);
				if (known.has(when.state)) return [];
				const who =
					when.of === 'target' ? 'no object has' : when.of === 'scene' ? 'the scene has not' : 'its asker has not';
				const asked = `“${query.name ?? query.id}” asks for the state “${when.state}”`;
				return [{ message: `${asked}, which ${who}${didYouMean(when.state, known)}`, path: [...path, 'state'] }];
			}),
	},
	{
		id: 'filter-never-passes',
		level: 'error',
		about: 'A filter contradicts itself: no object whatever can pass it.',
		mend: 'Take out one of the two conditions that exclude each other.',
		find: (context) => {
			const { project } = context;
			const family = (tag: string) => context.world().family.get(tag) ?? [tag];
			return project.queries.flatMap((query): Told[] => {
				const { any = [], all = [], none = [] } = query.selects?.tags ?? {};
				const out: Told[] = [];
				const at = context.at(query);
				const forbidden = (tag: string) => none.find((n) => family(tag).includes(n));
				for (const [i, tag] of all.entries()) {
					const by = forbidden(tag);
					if (by === undefined) continue;
					const wanted = `“${query.name ?? query.id}” wants the tag ${context.name('tag', tag)}`;
					out.push({
						message: `${wanted} and forbids ${context.name('tag', by)}: nothing can pass`,
						path: [...at, 'selects', 'tags', 'all', i],
					});
				}
				if (any.length > 0 && any.every((tag) => forbidden(tag) !== undefined))
					out.push({
						message: `“${query.name ?? query.id}” forbids every tag of which it wants one: nothing can pass`,
						path: [...at, 'selects', 'tags', 'any'],
					});
				(query.selects?.when ?? []).forEach(({ is, above, below, state }, k) => {
					const value = Number(is);
					const bad =
						(above !== undefined && below !== undefined && above >= below) ||
						(is !== undefined && ((above !== undefined && value <= above) || (below !== undefined && value >= below)));
					if (bad)
						out.push({
							message: `“${query.name ?? query.id}”: no value of “${state}” can fulfil its condition`,
							path: [...at, 'selects', 'when', k],
						});
				});
				const { min, max } = query.range ?? {};
				if (min !== undefined && max !== undefined && min > max)
					out.push({
						message: `“${query.name ?? query.id}” ranges from ${min} m to ${max} m: nothing can lie there`,
						path: [...at, 'range', 'max'],
					});
				return out;
			});
		},
	},
];
