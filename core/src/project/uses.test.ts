import { describe, expect, it } from 'vitest';
import { example } from '../tests/examples';
import { randomProject } from '../tests/project';
import { dice } from '../tests/random';
import { checkProject } from './read';
import type { Project } from './schema';
import { removeReferences, replaceUses, usesOf, wordsOfUse } from './uses';

const quay = () => example('harl-quay');

describe('uses', () => {
	it('are found wherever a thing is named, and said in words', () => {
		const p = quay();
		const uses = usesOf(p, 'object', 'deckhand');
		expect(uses.length).toBeGreaterThan(3);
		expect(usesOf(p, 'object', 'nobody')).toEqual([]);
		const said = new Set(uses.map((path) => wordsOfUse(p, path)));
		for (const words of ['query Gaze: asker', "camera Deckhand's eye: object"]) expect(said).toContain(words);
	});

	it.each<[(string | number)[], string]>([
		[['scene', 'objects', 0, 'parent'], 'Gangway: parent'],
		[['scene', 'tags', 0, 'under'], 'tag thing: under'],
		[['scene', 'stances', 0, 'from'], 'a stance between sides'],
		[['queries', 0, 'selects', 'layers', 1], 'query First: layers'],
		[['moments', 0, 'objects', 'crank', 'layer'], 'moment Later: objects crank layer'],
		[['checks', 0, 'expect', 'not', 0], 'check holds: not'],
		[['runs', 0, 'watch', 0, 'query'], 'run-through walk: watch query'],
		[['maps', 0, 'clear', 'layers', 0], 'map floor: clear layers'],
		[['effects', 0, 'do', 0, 'set', 'parent'], 'effects: do set parent'],
	])('a place is said: %j', (path, words) => {
		const named = {
			scene: { objects: [{ id: 'crank', name: 'Gangway' }], tags: [{ id: 'thing' }], layers: [], cameras: [] },
			queries: [{ id: 'first', name: 'First' }],
			moments: [{ id: 'later', name: 'Later' }],
			checks: [{ id: 'holds' }],
			runs: [{ id: 'walk' }],
			maps: [{ id: 'floor' }],
		} as unknown as Project;
		expect(wordsOfUse(named, path)).toBe(words);
	});

	it('replaced, leave none of the old and a valid project', () => {
		const p = quay();
		const next = replaceUses(p, 'layer', p.scene.layers[0]?.id ?? '', p.scene.layers[1]?.id ?? '');
		expect(usesOf(next, 'layer', p.scene.layers[0]?.id ?? '')).toEqual([]);
		expect(checkProject(next).ok).toBe(true);
	});

	it('a thing forgotten leaves a valid project, whatever it was', () => {
		for (let seed = 0; seed < 60; seed++) {
			const project = seed % 3 === 0 ? quay() : randomProject(seed);
			const { scene } = project;
			const d = dice(seed);
			const kinds = [
				['object', scene.objects],
				['layer', scene.layers],
				['tag', scene.tags],
				['side', scene.sides ?? []],
				['camera', scene.cameras],
				['query', project.queries],
				['moment', project.moments ?? []],
			] as const;
			for (const [kind, list] of kinds) {
				if (list.length === 0) continue;
				const { id } = d.of(list as readonly { id: string }[]);
				const next = removeReferences(project, kind, id);
				const checked = checkProject(next);
				expect(checked.ok ? [] : checked.problems).toEqual([]);
				expect(usesOf(next, kind, id)).toEqual([]);
			}
		}
	});

	it('says what had to go with it', () => {
		const p = quay();
		const gone: string[] = [];
		const hitbox = p.queries.find((q) => q.kind === 'hitbox');
		removeReferences(p, 'object', hitbox?.asker ?? '', gone);
		expect(gone.some((g) => g.startsWith('query '))).toBe(true);
	});
});
