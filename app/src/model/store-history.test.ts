/** History, gestures, renames and other tabs: what the store keeps, and what it refuses. */
import type { Project } from '@frelk/core';
import { mergeProjects, renamed } from '@frelk/core/editing';
import { example } from '@frelk/core/tests/examples';
import { describe, expect, it, vi } from 'vitest';
import { createBench, editQuery } from './store';

const open = () => createBench('quay', example('harl-quay'));
const name = (text: string) => (p: Project) => void (p.name = text);
const labels = (list: { label: string }[]) => list.map((s) => s.label);
const put = (p: Project, at: number, position: [number, number, number]) => {
	const object = p.scene.objects[at];
	if (!object) throw new Error(`no object ${at}`);
	object.position = position;
};

describe('a step of the history', () => {
	it('is an edit that changed something, and cuts off what was undone', () => {
		const store = open();
		const { edit, undo } = store.getState();
		edit('Nothing', () => {});
		expect(store.getState().past).toEqual([]);
		edit('One', name('One'));
		edit('Two', name('Two'));
		undo();
		expect([store.getState().project.name, labels(store.getState().future)]).toEqual(['One', ['Two']]);
		edit('Three', name('Three'));
		expect([labels(store.getState().past), store.getState().future]).toEqual([['One', 'Three'], []]);
		// A refused one is no step, and the next that is taken takes the refusal away.
		edit('Wrong', (p) => void (p.scene.tieSlack = -1));
		expect([labels(store.getState().past), store.getState().refusal]).toEqual([
			['One', 'Three'],
			expect.stringContaining('tieSlack'),
		]);
		edit('Four', name('Four'));
		expect(store.getState().refusal).toBeNull();
		store.getState().refuse('No.');
		store.getState().dismiss();
		expect(store.getState().refusal).toBeNull();
	});

	it('is not gone past at either end, nor in the middle of a gesture', () => {
		const store = open();
		const first = store.getState().project;
		store.getState().undo();
		store.getState().redo();
		expect([store.getState().project, store.getState().past, store.getState().future]).toEqual([first, [], []]);
		store.getState().edit('One', name('One'));
		store.getState().beginGesture('Move');
		store.getState().undo();
		expect(store.getState().project.name).toBe('One');
		store.getState().cancelGesture();
		store.getState().undo();
		store.getState().beginGesture('Move');
		store.getState().redo();
		expect(store.getState().project).toBe(first);
	});

	it('brings back what a kept history holds', () => {
		const store = open();
		const { project } = store.getState();
		const before = { ...project, name: 'Before' };
		const after = { ...project, name: 'After' };
		store.getState().restoreHistory([{ label: 'Old', project: before }], [{ label: 'New', project: after }]);
		store.getState().redo();
		expect([store.getState().project.name, labels(store.getState().past)]).toEqual(['After', ['Old', 'New']]);
		store.getState().undo();
		store.getState().undo();
		expect([store.getState().project.name, labels(store.getState().future)]).toEqual(['Before', ['New', 'Old']]);
	});

	it('is a whole new state of the project, unless it is the same or breaks a rule', () => {
		const store = open();
		const { project, put: take } = store.getState();
		take('Same', project);
		expect(store.getState().past).toEqual([]);
		take('Wrong', { ...project, scene: { ...project.scene, layers: [] } });
		expect([store.getState().project, store.getState().past]).toEqual([project, []]);
		expect(store.getState().refusal).toContain('layer');
		take('Name', { ...project, name: 'New' });
		expect([store.getState().refusal, labels(store.getState().past)]).toEqual([null, ['Name']]);
		store.getState().undo();
		take('Other', { ...project, name: 'Other' });
		expect(store.getState().future).toEqual([]);
	});

	it('is none where another state only stands for a while', () => {
		const store = open();
		const { project } = store.getState();
		store.getState().stand({ ...project, name: 'Live' });
		expect([store.getState().project.name, store.getState().past]).toEqual(['Live', []]);
	});
});

describe('a gesture', () => {
	it('that changed nothing is no step; one that is begun within another goes on with it', () => {
		const store = open();
		const { beginGesture, endGesture, edit } = store.getState();
		endGesture();
		beginGesture('Move');
		endGesture();
		expect([store.getState().past, store.getState().gesture]).toEqual([[], null]);
		beginGesture('Outer');
		edit('x', name('One'));
		beginGesture('Inner');
		edit('x', name('Two'));
		endGesture();
		expect([labels(store.getState().past), store.getState().past[0]?.project.name]).toEqual([
			['Outer'],
			'Quay at Harl',
		]);
		store.getState().undo();
		beginGesture('Again');
		edit('x', name('Three'));
		endGesture();
		expect([labels(store.getState().past), store.getState().future]).toEqual([['Again'], []]);
	});

	it('is one step before what is put or edited plainly while it is open', () => {
		for (const other of ['put', 'editPlain'] as const) {
			const store = open();
			store.getState().beginGesture('Move');
			store.getState().edit('Move', (p) => put(p, 1, [1, 0, 0]));
			if (other === 'put') store.getState().put('Put', { ...store.getState().project, name: 'Put' });
			else store.getState().editPlain('Put', name('Put'));
			expect([labels(store.getState().past), store.getState().gesture]).toEqual([['Move', 'Put'], null]);
			expect(store.getState().project.scene.objects[1]?.position).toEqual([1, 0, 0]);
		}
	});

	it('waits to be saved while it goes on, and says what cannot even stand', () => {
		const store = open();
		store.getState().beginGesture('Move');
		store.getState().edit('Move', (p) => put(p, 1, [1, 0, 0]));
		expect(store.getState().saving).toBe('waiting');
		const held = store.getState().project;
		store.getState().edit('Circle', (p) => {
			const [a, b] = p.scene.objects;
			if (a && b) [a.parent, b.parent] = [b.id, a.id];
		});
		expect(store.getState().refusal).toContain('circle');
		expect(store.getState().project).toBe(held);
	});

	it('that breaks a rule at its end leaves hands and history as they were', () => {
		const store = open();
		store.getState().pick('crank');
		store.getState().edit('One', name('One'));
		store.getState().undo();
		store.getState().beginGesture('Pull');
		store.getState().edit('Pull', (p) => void (p.scene.tieSlack = -1));
		store.getState().endGesture();
		expect(store.getState()).toMatchObject({ gesture: null, past: [], selection: ['crank'] });
		expect(labels(store.getState().future)).toEqual(['One']);
		store.getState().cancelGesture();
		expect(store.getState().refusal).toContain('tieSlack');
	});
});

describe('what is renamed', () => {
	const rename = (kind: 'object' | 'query' | 'moment' | 'camera', from: string, to: string) => {
		const store = open();
		store.getState().pickAll(['booth-back', 'crank']);
		store.getState().lookThrough('deckhand-eye');
		store.getState().pin('crank');
		store.getState().open('reach');
		store.getState().lookAt('booth-shut');
		if (kind === 'camera') store.getState().takeCamera('deckhand-eye');
		store.getState().put('Rename', renamed(store.getState().project, { kind, from, to }), { kind, from, to });
		const { selection, picked, pinned, query, moment, camera, through, refusal } = store.getState();
		expect(refusal).toBeNull();
		return { selection, picked, pinned, query, moment, camera, through };
	};
	const BEFORE = {
		selection: ['booth-back', 'crank'],
		picked: 'crank',
		pinned: 'crank',
		query: 'reach',
		moment: 'booth-shut',
		camera: null,
		through: 'deckhand-eye',
	};

	it('stays in hand, open and looked at under its new id, and all else as it was', () => {
		expect(rename('object', 'crank', 'winch')).toEqual({
			...BEFORE,
			selection: ['booth-back', 'winch'],
			picked: 'winch',
			pinned: 'winch',
		});
		expect(rename('query', 'reach', 'grasp')).toEqual({ ...BEFORE, query: 'grasp' });
		expect(rename('moment', 'booth-shut', 'evening')).toEqual({ ...BEFORE, moment: 'evening' });
		expect(rename('camera', 'deckhand-eye', 'his-eye')).toEqual({
			...BEFORE,
			selection: [],
			picked: null,
			camera: 'his-eye',
			through: 'his-eye',
		});
	});

	it('and what is gone is let go of', () => {
		const store = open();
		store.getState().open('reach');
		store.getState().lookAt('booth-shut');
		const { project } = store.getState();
		const without = {
			...project,
			queries: project.queries.filter((q) => q.id !== 'reach'),
			moments: project.moments?.filter((m) => m.id !== 'booth-shut'),
			checks: [],
			runs: [],
			maps: [],
		};
		store.getState().put('Delete', without);
		expect(store.getState().refusal).toBeNull();
		expect(store.getState()).toMatchObject({ query: project.queries[0]?.id, moment: null });
		store.getState().put('Delete all', { ...without, queries: [] });
		expect(store.getState().refusal).toBeNull();
		expect(store.getState().query).toBeNull();
	});
});

describe('another tab', () => {
	const both = (mine: (p: Project) => void, theirs: (p: Project) => void) => {
		const store = open();
		const base = store.getState().project;
		store.getState().edit('Mine', mine);
		const other = structuredClone(base);
		theirs(other);
		return { store, base, merged: mergeProjects(base, store.getState().project, other) };
	};

	it('is laid over all states of the history, which can still be gone through', () => {
		const { store, base, merged } = both(name('Mine'), (p) => put(p, 1, [7, 0, 7]));
		store.getState().edit('More', name('More'));
		store.getState().undo();
		store.getState().takeIn(merged);
		const at = () => [store.getState().project.name, store.getState().project.scene.objects[1]?.position];
		expect(at()).toEqual(['Mine', [7, 0, 7]]);
		expect(store.getState().clash).toBeNull();
		store.getState().undo();
		expect(at()).toEqual([base.name, [7, 0, 7]]);
		store.getState().redo();
		store.getState().redo();
		expect(at()).toEqual(['More', [7, 0, 7]]);
		const { past } = store.getState();
		store.getState().takeIn({
			project: store.getState().project,
			taken: [],
			renamed: [],
			both: [],
			clashes: [],
			beside: [],
			theirs: null,
		});
		expect(store.getState().past).toBe(past);
	});

	it('that changed the same is told, and its side can be gone back to', () => {
		const { store, merged } = both(name('Mine'), name('Theirs'));
		store.getState().takeIn(merged);
		expect(store.getState().project.name).toBe('Mine');
		expect(store.getState().clash).toEqual({ what: merged.both, undo: true, stands: 'mine' });
		expect(merged.both).toHaveLength(1);
		expect(labels(store.getState().past)).toEqual(['Mine', 'my side of what both changed']);
		store.getState().dismissClash();
		expect(store.getState().clash).toBeNull();
		store.getState().undo();
		expect(store.getState().project.name).toBe('Theirs');
		const other = both(name('Mine'), name('Theirs'));
		other.store.getState().takeIn(other.merged, 'theirs');
		expect(labels(other.store.getState().past).at(-1)).toBe('the other side of what both changed');
	});

	it('goes on under a hand: a gesture that is cancelled goes back to what the other has done too', () => {
		const { store, merged } = both(
			() => {},
			(p) => put(p, 1, [7, 0, 7]),
		);
		store.getState().beginGesture('Move');
		store.getState().edit('Move', (p) => put(p, 2, [1, 0, 1]));
		const now = mergeProjects(example('harl-quay'), store.getState().project, merged.project);
		store.getState().takeIn(now);
		expect(store.getState().project.scene.objects[2]?.position).toEqual([1, 0, 1]);
		store.getState().cancelGesture();
		expect(store.getState().project.scene.objects[1]?.position).toEqual([7, 0, 7]);
		expect(store.getState().project.scene.objects[2]?.position).not.toEqual([1, 0, 1]);
	});

	it('may leave a step that cannot be gone back to, which is said', () => {
		const { store, merged } = both(
			(p) => void p.scene.layers.push({ id: 'fog' }),
			(p) => void (p.scene.layers = p.scene.layers.filter((l) => l.id !== 'unused')),
		);
		store.getState().edit('Use', (p) => {
			const object = p.scene.objects[1];
			if (object) object.layer = 'fog';
		});
		// The other tab has put something on the layer that the first step makes.
		const wrong = { ...store.getState().project };
		store.getState().takeIn({
			...merged,
			project: wrong,
			taken: [],
			both: ['something'],
			theirs: { ...wrong, scene: { ...wrong.scene, layers: [] } },
		});
		const { past, project } = store.getState();
		store.getState().undo();
		expect(store.getState().refusal).toContain('cannot be undone');
		expect([store.getState().past, store.getState().project]).toEqual([past, project]);
		store
			.getState()
			.restoreHistory(
				[],
				[{ label: 'Back', project: { ...wrong, scene: { ...wrong.scene, layers: [] } }, mixed: true }],
			);
		store.getState().redo();
		expect(store.getState().refusal).toContain('“Back” cannot be redone');
		expect(store.getState().project).toBe(project);
	});

	it('that renames what is in hand leaves it there', () => {
		const store = open();
		store.getState().pickAll(['crank']);
		store.getState().open('reach');
		const { project } = store.getState();
		const object = { kind: 'object', from: 'crank', to: 'winch' } as const;
		const query = { kind: 'query', from: 'reach', to: 'grasp' } as const;
		const next = renamed(renamed(project, object), query);
		store
			.getState()
			.takeIn({ project: next, taken: [], renamed: [object, query], both: [], clashes: [], beside: [], theirs: null });
		expect(store.getState()).toMatchObject({ selection: ['winch'], picked: 'winch', query: 'grasp', past: [] });
	});
});

describe('what is small', () => {
	it('tells listeners only of what is another', () => {
		const store = open();
		const heard = vi.fn();
		store.subscribe(heard);
		const { point, setSaving, swingAt, tryOn } = store.getState();
		point(null);
		setSaving('saved');
		swingAt(null);
		tryOn(null);
		expect(heard).not.toHaveBeenCalled();
		point('crank');
		setSaving('failed', 'The disk is full.');
		setSaving('failed', 'The disk is full.');
		swingAt(0.5);
		expect(heard).toHaveBeenCalledTimes(3);
		setSaving('failed', 'Another reason.');
		expect(store.getState()).toMatchObject({
			saving: 'failed',
			unsavedFor: 'Another reason.',
			swing: 0.5,
			pointed: 'crank',
		});
		setSaving('saved');
		expect(store.getState().unsavedFor).toBeNull();
	});

	it('marks a part anew each time, and unmarks it when a query is opened', () => {
		const store = open();
		store.getState().markPart('range');
		const first = store.getState().nextPart;
		store.getState().markPart('range', true);
		expect(first).toMatchObject({ part: 'range', open: false });
		expect(store.getState().nextPart).toMatchObject({ part: 'range', open: true, nth: (first?.nth ?? 0) + 1 });
		store.getState().open('reach');
		expect(store.getState()).toMatchObject({ nextPart: null, query: 'reach' });
		store.getState().markPart(null);
		expect(store.getState().nextPart).toBeNull();
		store.getState().letSwing();
		store.getState().letSwing();
		expect(store.getState().swings).toBe(2);
	});

	it('edits the query that is open, and nothing where none is', () => {
		const store = open();
		store.getState().open('reach');
		editQuery(store, 'Off', (q) => void (q.enabled = false));
		expect(store.getState().project.queries.map((q) => q.enabled === false)).toEqual(
			store.getState().project.queries.map((q) => q.id === 'reach'),
		);
		store.getState().open(null);
		editQuery(store, 'On', (q) => void (q.enabled = true));
		expect(labels(store.getState().past)).toEqual(['Off']);
	});

	it('begins with the first query, nothing in hand, the card where it lay last', () => {
		expect(open().getState()).toMatchObject({
			query: example('harl-quay').queries[0]?.id,
			selection: [],
			picked: null,
			cardSide: 'ladder',
			moving: false,
			inDetail: false,
		});
		const store = open();
		store.getState().dockCard('queries');
		store.getState().detail(true);
		store.getState().move(true);
		expect(store.getState()).toMatchObject({ cardSide: 'queries', inDetail: true, moving: true });
		const none = example('harl-quay');
		expect(createBench('none', { ...none, queries: [] }).getState().query).toBeNull();
	});

	it('wants a remedy instead of what was tried on', () => {
		const store = open();
		const { project } = store.getState();
		store.getState().tryOn({ words: 'x', project: { ...project, name: 'x' } });
		store.getState().want({ object: 'crank', wish: 'leave' });
		expect(store.getState()).toMatchObject({ preview: null, wanted: { object: 'crank', wish: 'leave' } });
	});
});
