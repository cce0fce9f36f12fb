import { randomProject } from '@frelk/core/tests/project';
import { create as produce } from 'mutative';
import { expect, it } from 'vitest';
import { textOf } from './text';

it('a project’s text is what JSON makes of it, also after edits', () => {
	for (let seed = 0; seed < 60; seed++) {
		const project = randomProject(seed);
		expect(textOf(project)).toBe(JSON.stringify(project));
		const next = produce(project, (draft) => {
			draft.name = 'Another “name”';
			for (const q of draft.queries) if (q.kind === 'pick') q.cursor = [1, 2];
			if (draft.scene.objects[0]) draft.scene.objects[0].prompt = 'a\nb';
			draft.scene.states = { dark: true };
		});
		expect(textOf(next)).toBe(JSON.stringify(next));
		expect(textOf(project)).toBe(JSON.stringify(project));
	}
});
