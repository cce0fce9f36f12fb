import { randomProject } from '@frelk/core/tests/project';
import { create as produce } from 'mutative';
import { expect, it } from 'vitest';
import { changed, changeOf, piecesOf, textOf } from './text';

const edited = (seed: number) => {
	const project = randomProject(seed);
	const next = produce(project, (draft) => {
		draft.name = 'Another “name”';
		for (const q of draft.queries) if (q.kind === 'pick') q.cursor = [1, 2];
		if (draft.scene.objects[0]) draft.scene.objects[0].prompt = 'a\nb';
		draft.scene.states = { dark: true };
	});
	return { project, next };
};

it('a project’s text is what JSON makes of it, also after edits', () => {
	for (let seed = 0; seed < 60; seed++) {
		const { project, next } = edited(seed);
		expect(textOf(project)).toBe(JSON.stringify(project));
		expect(textOf(next)).toBe(JSON.stringify(next));
		expect(textOf(project)).toBe(JSON.stringify(project));
	}
});

it('who has the text before makes the text after of the change, there and back', () => {
	for (let seed = 0; seed < 60; seed++) {
		const { project, next } = edited(seed);
		let had = changed([], changeOf([], piecesOf(project)));
		expect(had.join('')).toBe(JSON.stringify(project));
		had = changed(had, changeOf(piecesOf(project), piecesOf(next)));
		expect(had.join('')).toBe(JSON.stringify(next));
		had = changed(had, changeOf(piecesOf(next), piecesOf(project)));
		expect(had.join('')).toBe(JSON.stringify(project));
	}
});

it('a change of a query sends none of the objects', () => {
	const project = randomProject(7);
	const many = {
		...project,
		scene: {
			...project.scene,
			objects: Array.from({ length: 50 }, (_, i) => ({ ...(project.scene.objects[0] as object), id: `crate-${i}` })),
		},
	} as typeof project;
	const next = produce(many, (draft) => {
		if (draft.queries[0]) draft.queries[0].name = 'Renamed';
	});
	const change = changeOf(piecesOf(many), piecesOf(next));
	expect(change.some((piece) => typeof piece === 'string' && piece.includes('"crate-1"'))).toBe(false);
	expect(change.some((piece) => typeof piece === 'string' && piece.includes('Renamed'))).toBe(true);
});
