import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomProject } from '../tests/project';
import { dice } from '../tests/random';
import { runs } from '../tests/runs';
import { ahead, box, object, project } from '../tests/scene';
import { applyChanges, changesFrom, deepEqual, mergeProjects, wordsOfChange } from './merge';
import { checkProject } from './read';
import type { Project } from './schema';

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;
const edited = (p: Project, edit: (draft: Project) => void): Project => {
	const next = copy(p);
	edit(next);
	const checked = checkProject(next);
	if (!checked.ok) throw new Error(checked.problems[0]?.message);
	return next;
};
const base = (): Project =>
	project(
		[object('one', [0, 0, 0], [box([1, 1, 1])]), object('two', [1, 0, 0], []), object('three', [2, 0, 0], [])],
		[ahead()],
	);
const at = (p: Project, id: string) => {
	const found = p.scene.objects.find((o) => o.id === id);
	if (!found) throw new Error(`no ${id}`);
	return found;
};

/** Random edits that leave a project valid whatever was done before: of one half of the objects only, by their place. */
function randomEdits(p: Project, seed: number, half: 0 | 1 | null): Project {
	const d = dice(seed);
	return edited(p, (draft) => {
		const mine = draft.scene.objects.filter((_, i) => half === null || i % 2 === half);
		for (let i = d.whole(1, 4); i > 0 && mine.length > 0; i--) {
			const o = d.of(mine);
			switch (d.whole(0, 6)) {
				case 0:
					o.position = [d.between(-5, 5), d.between(-5, 5), 0.25 * d.whole(0, 6)];
					break;
				case 1:
					o.states = { ...o.states, wear: d.whole(0, 99), [`s${d.whole(0, 3)}`]: d.chance(0.5) };
					break;
				case 2:
					delete o.states;
					break;
				case 3:
					o.tags = d.some(['thing', 'odd'], 0.5);
					break;
				case 4:
					if (o.shapes?.[0]) o.shapes[0].enabled = d.chance(0.5);
					break;
				case 5:
					draft.scene.objects.splice(d.whole(0, draft.scene.objects.length), 0, {
						id: `new-${half}-${d.whole(0, 1e6)}`,
						layer: 'one',
					});
					break;
				default:
					o.name = `Name ${d.whole(0, 1e6)}`;
			}
		}
		if (half === null && d.chance(0.4)) draft.scene.objects.reverse();
	});
}

describe('changes between two states', () => {
	it('lead from the one to the other, whatever the two are', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 1, max: 400 }),
				fc.integer({ min: 1, max: 1e6 }),
				fc.boolean(),
				(seed, edit, unrelated) => {
					const before = randomProject(seed);
					const after = unrelated ? randomProject(edit) : randomEdits(before, edit, null);
					const changes = changesFrom(before, after);
					expect(JSON.stringify(sorted(applyChanges(before, changes)))).toBe(JSON.stringify(sorted(after)));
					expect(deepEqual(applyChanges(before, changes), after)).toBe(true);
					expect(changesFrom(before, copy(before))).toEqual([]);
				},
			),
			{ numRuns: runs(150) },
		);
	});

	it('say thing and field, and leave the rest the very same', () => {
		const before = base();
		const after = edited(before, (p) => {
			at(p, 'two').states = { jammed: true };
			at(p, 'one').position = [5, 0, 0];
		});
		expect(changesFrom(before, after)).toEqual([
			{ path: ['scene', 'objects', 'one', 'position'], value: [5, 0, 0] },
			{ path: ['scene', 'objects', 'two', 'states'], value: { jammed: true } },
		]);
		const next = applyChanges(before, changesFrom(before, after));
		expect(at(next, 'three')).toBe(at(before, 'three'));
		expect(next.queries).toBe(before.queries);
		expect(at(before, 'one').position).toEqual([0, 0, 0]);
	});

	it('have an order of their own', () => {
		const before = base();
		const after = edited(before, (p) => void p.scene.objects.reverse());
		expect(changesFrom(before, after)).toEqual([{ path: ['scene', 'objects'], order: ['three', 'two', 'one'] }]);
		// Laid over a list with another entry, it keeps its place.
		const other = edited(before, (p) => void p.scene.objects.splice(1, 0, { id: 'four', layer: at(p, 'one').layer }));
		expect(applyChanges(other, changesFrom(before, after)).scene.objects.map((o) => o.id)).toEqual([
			'three',
			'four',
			'two',
			'one',
		]);
	});
});

/** With keys in one order, so that texts can be held against each other. */
const sorted = (value: unknown): unknown =>
	Array.isArray(value)
		? value.map(sorted)
		: typeof value === 'object' && value !== null
			? Object.fromEntries(
					Object.entries(value)
						.sort(([a], [b]) => (a < b ? -1 : 1))
						.map(([k, v]) => [k, sorted(v)]),
				)
			: value;

describe('two edits brought together', () => {
	/** A run over the base, with more laid over it. */
	const running = (more: object = {}, rest: object = {}) =>
		edited(base(), (p) => {
			p.runs = [{ id: 'r', duration: 4, step: 0.1, ...more } as never];
			Object.assign(p, rest);
		});
	const key = (t: number) => ({ t, position: [t, 0, 0] });
	const track = (object: string, ...times: number[]) => ({ object, keys: times.map(key) });
	const effect = (action: string, wear: number) => ({ action, do: [{ of: 'target', set: { states: { wear } } }] });

	it.each<[string, object, object, object, object]>([
		[
			'tracks',
			{},
			{ tracks: [track('one', 0)] },
			{ tracks: [track('two', 1)] },
			{ tracks: [track('two', 1), track('one', 0)] },
		],
		[
			'keys of one track, in the order of their times',
			{ tracks: [track('one', 0, 3)] },
			{ tracks: [track('one', 0, 1, 3)] },
			{ tracks: [track('one', 0, 2, 3)] },
			{ tracks: [track('one', 0, 1, 2, 3)] },
		],
		[
			'what is watched, and presses of it',
			{ watch: [{ query: 'q' }] },
			{ watch: [{ query: 'q' }, { id: 'a', query: 'q' }], presses: [{ watch: 'q', at: 1 }] },
			{ watch: [{ query: 'q', keeps: 'one' }], presses: [{ watch: 'q', at: 2 }] },
			{
				watch: [
					{ query: 'q', keeps: 'one' },
					{ id: 'a', query: 'q' },
				],
				presses: [
					{ watch: 'q', at: 2 },
					{ watch: 'q', at: 1 },
				],
			},
		],
	])('have both entries of lists without ids: %s', (_, was, ours, others, wanted) => {
		const merged = mergeProjects(running(was), running(ours), running(others));
		expect(merged.both).toEqual([]);
		expect(merged.project.runs).toEqual([{ id: 'r', duration: 4, step: 0.1, ...wanted }]);
	});

	it('have both effects, rules and outcomes; of one that both changed ours stands, and it is named', () => {
		const asking = (effects: object[], rules: string[], tags: string[]) =>
			running(
				{},
				{
					effects,
					queries: [
						ahead({
							choose: { by: rules.map((rule) => ({ rule })) },
							outcomes: tags.map((tag) => ({ tag, prompt: tag })),
						}),
					],
				},
			);
		const start = asking([effect('lift', 1)], ['distance'], ['bird']);
		const mine = asking([effect('lift', 1), effect('drop', 1)], ['distance', 'priority'], ['bird', 'gull']);
		const theirs = asking([effect('lift', 2), effect('turn', 1)], ['distance', 'listed'], ['bird', 'crank']);
		const merged = mergeProjects(start, mine, theirs);
		expect(merged.both).toEqual([]);
		expect(merged.project.effects?.map((e) => [e.action, e.do[0]?.set?.states])).toEqual([
			['lift', { wear: 2 }],
			['turn', { wear: 1 }],
			['drop', { wear: 1 }],
		]);
		const [query] = merged.project.queries;
		expect(query.choose?.by?.map((r) => r.rule)).toEqual(['distance', 'listed', 'priority']);
		expect(query.outcomes?.map((o) => o.tag)).toEqual(['bird', 'crank', 'gull']);
		const clash = mergeProjects(start, asking([effect('lift', 5)], ['distance'], ['bird']), theirs);
		expect(clash.both).toEqual(['effects action lift do']);
		expect(clash.project.effects?.map((e) => e.do[0]?.set?.states)).toEqual([{ wear: 5 }, { wear: 1 }]);
	});

	it('leave swings alone, which checks name by their place', () => {
		const shape = { kind: 'sphere', radius: 1 };
		const swing = { id: 'swing', kind: 'hitbox', asker: 'one', boxes: [{ shape, from: 0, until: 1 }] };
		const swinging = (...at: number[]) =>
			running({ swings: at.map((t) => ({ query: 'swing', at: t })) }, { queries: [ahead(), swing] });
		const merged = mergeProjects(swinging(1), swinging(1, 2), swinging(1, 3));
		expect(merged.both).toHaveLength(1);
		expect(merged.project.runs?.[0]?.swings?.map((s) => s.at)).toEqual([1, 2]);
	});

	it('are both there where they are of different things, and come to the same from either side', () => {
		fc.assert(
			fc.property(fc.integer({ min: 1, max: 400 }), fc.integer({ min: 1, max: 1e6 }), (seed, edit) => {
				const start = randomProject(seed);
				const [mine, theirs] = [randomEdits(start, edit, 0), randomEdits(start, edit + 1, 1)];
				const merged = mergeProjects(start, mine, theirs);
				expect(merged.both).toEqual([]);
				expect(checkProject(merged.project).ok).toBe(true);
				for (const [side, i] of [
					[mine, 0],
					[theirs, 1],
				] as const)
					for (const [k, o] of start.scene.objects.entries())
						if (k % 2 === i) expect(at(merged.project, o.id)).toEqual(at(side, o.id));
				const ids = (p: Project) => p.scene.objects.map((o) => o.id).sort();
				expect(ids(merged.project)).toEqual([...new Set([...ids(mine), ...ids(theirs)])].sort());
				expect(sorted(byId(mergeProjects(start, theirs, mine).project))).toEqual(sorted(byId(merged.project)));
			}),
			{ numRuns: runs(100) },
		);
	});

	it('change nothing where only one side did', () => {
		const start = base();
		const one = edited(start, (p) => void (at(p, 'one').name = 'One'));
		expect(mergeProjects(start, one, start).project).toBe(one);
		expect(mergeProjects(start, start, one).project).toEqual(one);
		expect(mergeProjects(start, one, copy(one))).toMatchObject({ both: [], theirs: null });
	});

	it('of one field: ours stands, is named, and theirs is at hand', () => {
		const start = base();
		const mine = edited(start, (p) => {
			at(p, 'one').position = [1, 1, 1];
			at(p, 'one').name = 'Mine';
		});
		const theirs = edited(start, (p) => {
			at(p, 'one').position = [2, 2, 2];
			at(p, 'one').priority = 3;
		});
		const merged = mergeProjects(start, mine, theirs);
		expect(merged.both).toEqual(['one: position']);
		expect(at(merged.project, 'one')).toMatchObject({ name: 'Mine', position: [1, 1, 1], priority: 3 });
		expect(at(merged.theirs as Project, 'one')).toMatchObject({ name: 'Mine', position: [2, 2, 2], priority: 3 });
		// States are fields of their own.
		const [a, b] = ['a', 'b'].map((s) =>
			edited(start, (p) => void (at(p, 'two').states = { ...at(p, 'two').states, [s]: true })),
		);
		const both = mergeProjects(
			edited(start, (p) => void (at(p, 'two').states = {})),
			a as Project,
			b as Project,
		);
		expect([at(both.project, 'two').states, both.both]).toEqual([{ a: true, b: true }, []]);
	});

	it('keep both things that were made under one id', () => {
		const start = base();
		const layer = at(start, 'one').layer;
		const mine = edited(start, (p) => {
			p.scene.objects.push({ id: 'crate', layer, name: 'My crate' }, { id: 'lid', layer, parent: 'crate' });
			(p.queries[0] as { asker?: string }).asker = 'crate';
		});
		const theirs = edited(start, (p) => void p.scene.objects.push({ id: 'crate', layer, name: 'Their crate' }));
		const merged = mergeProjects(start, mine, theirs);
		expect(merged.renamed).toEqual([{ kind: 'object', from: 'crate', to: 'crate-2' }]);
		expect(at(merged.project, 'crate').name).toBe('Their crate');
		expect(at(merged.project, 'crate-2').name).toBe('My crate');
		expect(at(merged.project, 'lid').parent).toBe('crate-2');
		expect(merged.project.queries[0]?.asker).toBe('crate-2');
		// The very same thing on both sides is one thing.
		expect(mergeProjects(start, theirs, copy(theirs)).renamed).toEqual([]);
	});

	it('keep what one side deleted and the other names', () => {
		const start = base();
		const gone = edited(start, (p) => void (p.scene.objects = p.scene.objects.filter((o) => o.id !== 'three')));
		const named = edited(start, (p) => void (at(p, 'two').parent = 'three'));
		for (const [mine, theirs] of [
			[gone, named],
			[named, gone],
		] as const) {
			const merged = mergeProjects(start, mine, theirs);
			expect(checkProject(merged.project).ok).toBe(true);
			expect(at(merged.project, 'two').parent).toBe('three');
			expect(merged.both).toEqual(['three (deleted by one, needed by the other: kept)']);
		}
		// Deleted here, changed there: deleted, and said.
		const changed = edited(start, (p) => void (at(p, 'three').priority = 1));
		expect(mergeProjects(start, gone, changed)).toMatchObject({ both: ['three: priority'] });
		expect(mergeProjects(start, gone, changed).project.scene.objects).toHaveLength(2);
		expect(at(mergeProjects(start, changed, gone).project, 'three').priority).toBe(1);
	});

	it('leave a valid project where they cannot go together at all', () => {
		const start = base();
		const mine = edited(start, (p) => void (at(p, 'one').parent = 'two'));
		const theirs = edited(start, (p) => void (at(p, 'two').parent = 'one'));
		const merged = mergeProjects(start, mine, theirs);
		expect(merged).toMatchObject({ project: mine, both: ['more than can be brought together'], theirs });
	});
});

it.each<[string[], boolean, string]>([
	[['scene', 'objects', 'one', 'states', 'wear'], false, 'First: states wear'],
	[['scene', 'objects', 'one'], false, 'First'],
	[['scene', 'objects', 'two', 'name'], false, 'two: name'],
	[['scene', 'objects', 'one', 'shapes'], true, 'First: the order of shapes'],
	[['scene', 'objects'], true, 'the order of objects'],
	[['scene', 'objects', 'gone', 'name'], false, 'objects gone name'],
	[['name'], false, 'name'],
])('what both changed is said: %j', (path, order, words) => {
	const p = edited(base(), (draft) => void (at(draft, 'one').name = 'First'));
	expect(wordsOfChange({ path, ...(order ? { order: [] } : { value: 1 }) }, p)).toBe(words);
});

function byId(p: Project): Project {
	const next = copy(p);
	next.scene.objects.sort((a, b) => (a.id < b.id ? -1 : 1));
	return next;
}
