import { removeReferences } from '@frelk/core/editing';
import { example } from '@frelk/core/tests/examples';
import { describe, expect, it } from 'vitest';
import { answerWords, freshQuery } from '../features/edit/fresh-query';
import { createBench } from './store';

const quay = () => example('harl-quay');

describe('bench store', () => {
	it('undoes and redoes edits one by one, and a gesture as one', () => {
		const store = createBench('quay', quay());
		const before = store.getState().project;
		store.getState().edit('Rename', (p) => void (p.name = 'One'));
		store.getState().beginGesture('Move');
		for (let i = 0; i < 5; i++) store.getState().edit('Move', (p) => void (p.scene.objects[1]!.position = [i, 0, 0]));
		store.getState().endGesture();
		expect(store.getState().past.map((s) => s.label)).toEqual(['Rename', 'Move']);
		store.getState().undo();
		expect(store.getState().project.name).toBe('One');
		expect(store.getState().project.scene.objects[1]?.position).toEqual(before.scene.objects[1]?.position);
		store.getState().undo();
		expect(store.getState().project).toBe(before);
		store.getState().redo();
		store.getState().redo();
		expect(store.getState().project.scene.objects[1]?.position).toEqual([4, 0, 0]);
		expect(store.getState().future).toEqual([]);
	});

	it('stands as it would be while a change is looked at, and counts that in no history', () => {
		const store = createBench('quay', quay());
		const { project, derived } = store.getState();
		const away = (p: typeof project) => ({
			...p,
			scene: {
				...p.scene,
				objects: p.scene.objects.map((o) => (o.id === 'crank' ? { ...o, active: false } : o)),
			},
		});
		const chosen = () => store.getState().derived.current?.selected.map((s) => s.object);
		expect(derived.current?.selected.map((s) => s.object)).toEqual(['crank']);
		const preview = { words: 'Away', project: away(project) };
		store.getState().tryOn(preview);
		expect(chosen()).toEqual([]);
		expect([store.getState().project, store.getState().past]).toEqual([project, []]);
		store.getState().tryOn(null);
		expect(chosen()).toEqual(['crank']);
		// An edit ends it, and so does another query; while the hand holds something there is none.
		store.getState().tryOn(preview);
		store.getState().edit('Rename', (p) => void (p.name = 'One'));
		expect([store.getState().preview, chosen()]).toEqual([null, ['crank']]);
		store.getState().tryOn(preview);
		store.getState().open('reach');
		expect(store.getState().preview).toBeNull();
		store.getState().beginGesture('Move');
		store.getState().tryOn(preview);
		expect(store.getState().preview).toBeNull();
		store.getState().cancelGesture();
		store.getState().tryOn(preview);
		store.getState().beginGesture('Move');
		store.getState().tryOn(null);
		expect(store.getState().preview).toBeNull();
	});

	it('takes a cancelled gesture back', () => {
		const store = createBench('quay', quay());
		const before = store.getState().project;
		store.getState().beginGesture('Move');
		store.getState().edit('Move', (p) => void (p.scene.objects[1]!.position = [9, 0, 0]));
		store.getState().cancelGesture();
		expect(store.getState().project).toBe(before);
		expect(store.getState().past).toEqual([]);
	});

	it('refuses an edit that would break the project, and says why', () => {
		const store = createBench('quay', quay());
		const before = store.getState().project;
		store.getState().edit('Layer', (p) => void (p.scene.objects[0]!.layer = 'nowhere'));
		expect(store.getState().project).toBe(before);
		expect(store.getState().refusal).toContain('scene.objects[0].layer: no layer "nowhere"');
	});

	it('makes a fresh query of every kind that is valid', () => {
		for (const kind of ['ray', 'pick', 'sweep', 'overlap', 'hitbox'] as const) {
			const store = createBench('quay', quay());
			const query = freshQuery(store.getState().project, kind, 'deckhand');
			store.getState().edit('New', (p) => void p.queries.push(query!));
			expect(store.getState().refusal).toBeNull();
			expect(store.getState().project.queries.at(-1)?.kind).toBe(kind);
		}
	});

	it('records an edit at a moment in the moment, as one step', () => {
		const store = createBench('quay', quay());
		const moment = store.getState().project.moments?.[0]?.id ?? '';
		store.getState().lookAt(moment);
		const { scene } = store.getState().project;
		store.getState().beginGesture('Move');
		for (let i = 1; i < 4; i++)
			store
				.getState()
				.edit('Move', (p) => void (p.scene.objects.find((o) => o.id === 'booth-back')!.position = [i, 0, i]));
		store.getState().endGesture();
		const { project, past, refusal } = store.getState();
		expect(refusal).toBeNull();
		expect(project.scene.objects).toEqual(scene.objects);
		expect(project.moments?.[0]?.objects?.['booth-back']?.position).toEqual([3, 0, 3]);
		expect(past).toHaveLength(1);
		// What is edited plainly is not recorded.
		store.getState().editPlain('Name', (p) => void (p.name = 'Harl'));
		expect(store.getState().project.name).toBe('Harl');
		store.getState().undo();
		store.getState().undo();
		expect(store.getState().project.moments).toEqual(quay().moments);
	});

	it('keeps several objects in hand, and lets go of what is deleted', () => {
		const store = createBench('quay', quay());
		store.getState().pick('crank');
		store.getState().pick('booth-back', true);
		expect(store.getState()).toMatchObject({ selection: ['crank', 'booth-back'], picked: 'booth-back' });
		store.getState().pick('crank', true);
		expect(store.getState().selection).toEqual(['booth-back']);
		store.getState().pickAll(['crate-4', 'booth-back']);
		store.getState().put('Delete', removeReferences(store.getState().project, 'object', 'crate-4'));
		expect(store.getState().selection).toEqual(['booth-back']);
		store.getState().pick(null);
		expect(store.getState().picked).toBeNull();
	});

	it('refuses at its end a gesture that would break the project', () => {
		const store = createBench('quay', quay());
		const before = store.getState().project;
		store.getState().beginGesture('Pull');
		store.getState().edit('Pull', (p) => void (p.scene.objects[0]!.scale = [0, 1, 1]));
		store.getState().endGesture();
		expect(store.getState().project).toBe(before);
		expect(store.getState().refusal).toContain('scale');
	});

	it('says an answer in a few words', () => {
		const p = quay();
		const answer = {
			query: 'q',
			status: 'tie' as const,
			selected: [],
			tied: ['cleat-port', 'cleat-starboard'],
			notes: [],
			verdicts: [],
		};
		expect(answerWords(p, answer)).toBe('tie: Port cleat, Starboard cleat');
		expect(answerWords(p, { ...answer, status: 'none', tied: [] })).toBe('nothing');
	});
});

describe('what is left by Escape', () => {
	const open = () => createBench('quay', example('harl-quay'));

	it('goes one thing at a time, the innermost first', () => {
		const store = open();
		const { pick, use, dockAt, drawOut, lookThrough, leave } = store.getState();
		dockAt('roster');
		lookThrough('deckhand-eye');
		pick('crank');
		use({ kind: 'measure' });
		drawOut('ladder');
		const left = () => {
			const { drawer, tool, picked, through, dock } = store.getState();
			return [drawer, tool, picked, through, dock].filter((v) => v !== null).length;
		};
		for (const n of [4, 3, 2, 1, 0]) {
			expect(leave()).toBe(true);
			expect(left()).toBe(n);
		}
		expect(leave()).toBe(false);
	});

	it('a camera in hand is let go of by it, and by taking an object', () => {
		const store = open();
		const { takeCamera, pick, leave } = store.getState();
		pick('crank');
		takeCamera('deckhand-eye');
		expect(store.getState()).toMatchObject({ camera: 'deckhand-eye', picked: null, selection: [] });
		pick('crank');
		expect(store.getState()).toMatchObject({ camera: null, picked: 'crank' });
		takeCamera('deckhand-eye');
		expect(leave()).toBe(true);
		expect(store.getState().camera).toBeNull();
	});

	it('a camera that is gone is neither in hand nor looked through', () => {
		const store = open();
		store
			.getState()
			.edit('Add', (draft) => void draft.scene.cameras.push({ ...draft.scene.cameras[0], id: 'two' } as never));
		store.getState().takeCamera('two');
		store.getState().lookThrough('two');
		store.getState().undo();
		expect(store.getState()).toMatchObject({ camera: null, through: null });
	});
});
