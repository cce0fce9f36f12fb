/** One rule for several objects: exactly those get it, by one tag, before what was said before. */
import { buildWorld, checkProject, type Project, type Query } from '@frelk/core';
import { ball, object, project } from '@frelk/core/tests/scene';
import { describe, expect, it } from 'vitest';
import { ruleForAll } from './rule-for-all';

const six = Array.from({ length: 6 }, (_, i) => object(`crate-${i}`, [i, 0, 0], [ball(0.3)]));
const other = object('bell', [9, 0, 0], [ball(0.3)]);
const overlap = { id: 'q', kind: 'overlap', at: { point: [0, 0, 0] }, shape: { kind: 'sphere', radius: 20 } } as Query;
const made = (change: (p: Project) => void): Project => {
	const p: Project = JSON.parse(JSON.stringify(project([...six, other], [overlap])));
	change(p);
	const read = checkProject(JSON.parse(JSON.stringify(p)));
	expect(read.ok ? [] : read.problems).toEqual([]);
	expect(() => buildWorld(p)).not.toThrow();
	return p;
};
const ids = six.map((o) => o.id);

describe('one rule for six things', () => {
	it('is a tag of theirs alone and one outcome', () => {
		const p = made((draft) => ruleForAll(draft, ids, 'q', { prompt: 'Lift {name}', action: 'lift' }));
		expect(p.queries[0]?.outcomes).toEqual([{ tag: 'lift', prompt: 'Lift {name}', action: 'lift' }]);
		expect(p.scene.objects.filter((o) => o.tags?.includes('lift')).map((o) => o.id)).toEqual(ids);
	});
	it('takes the tag they have already, where no other has it, and says it anew in place of before', () => {
		const p = made((draft) => {
			ruleForAll(draft, ids, 'q', { prompt: 'Lift {name}', action: 'lift' });
			ruleForAll(draft, ids, 'q', { prompt: 'Push {name}', action: '' });
		});
		expect(p.queries[0]?.outcomes).toEqual([{ tag: 'lift', prompt: 'Push {name}' }]);
		expect(p.scene.tags.map((t) => t.id).filter((id) => id === 'lift')).toHaveLength(1);
	});
	it('is not by a tag that another has too, and stands before what was said before', () => {
		const p = made((draft) => {
			draft.scene.tags.push({ id: 'cargo' });
			for (const o of draft.scene.objects) o.tags = ['cargo'];
			(draft.queries[0] as Query).outcomes = [{ tag: 'cargo', prompt: 'Look' }];
			ruleForAll(draft, ids, 'q', { prompt: 'Lift {name}', action: '' });
		});
		expect(p.queries[0]?.outcomes?.map((o) => o.tag)).toEqual(['lift', 'cargo']);
		expect(p.scene.objects.at(-1)?.tags).toEqual(['cargo']);
	});
	it('is none without a query or without anything to give', () => {
		const p = made((draft) => {
			ruleForAll(draft, ids, 'nobody', { prompt: 'Lift', action: '' });
			ruleForAll(draft, ids, 'q', { prompt: '', action: '' });
		});
		expect(p.queries[0]?.outcomes).toBeUndefined();
		expect(p.scene.objects.every((o) => o.tags === undefined || o.tags.length === 0)).toBe(true);
	});
});
