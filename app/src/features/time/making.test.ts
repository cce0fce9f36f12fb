/** What the time view makes of a run: windows that hold a step, memories, entries, sentences of effects. */
import type { Effect, Project, Run } from '@frelk/core';
import { checkProject } from '@frelk/core';
import { example } from '@frelk/core/tests/examples';
import { expect, it } from 'vitest';
import { withEveryMemory } from './beside';
import { actionsIn, lineWords } from './effects';
import { memoryWords, watching, withMemory, withNewRun } from './entries';
import { holdsStep } from './keys-view';

const run: Run = { id: 'r', duration: 1, step: 0.25 };
const valid = (p: Project) => {
	const checked = checkProject(JSON.parse(JSON.stringify(p)));
	expect(checked.ok ? [] : checked.problems).toEqual([]);
};

it('a window holds a step where one falls into it, ends included', () => {
	for (const [from, until, holds] of [
		[0.25, 0.25, true],
		[0.26, 0.49, false],
		[0.26, 0.5, true],
		[0.24, 0.26, true],
		[1, 1.2, true],
		[1.01, 1.3, false],
	] as const)
		expect([from, holdsStep({ from, until }, run)]).toEqual([from, holds]);
});

it('a memory is changed without losing what is watched', () => {
	const entry = { id: 'calm', query: 'reach', stick: { distance: 0.4 } };
	expect(withMemory(entry, 'all')).toEqual({ id: 'calm', query: 'reach' });
	expect(withMemory(entry, 'own')).toEqual({ id: 'calm', query: 'reach', keeps: 'one', forgets: 'own' });
	expect(withMemory(entry, 'any')).toEqual({ id: 'calm', query: 'reach', keeps: 'one', forgets: 'any' });
	expect(withMemory({ query: 'reach' }, 'stick', 0.2)).toEqual({ query: 'reach', stick: { distance: 0.2 } });
	expect(memoryWords(entry)).toBe('sticks within 0.4 m');
	expect(memoryWords(withMemory(entry, 'any'))).toBe('one slot, emptied by any that leaves');
	expect(memoryWords(withMemory(entry, 'own'))).toBe('one slot, emptied by its own');
	expect(memoryWords({ query: 'reach' })).toBe('the answer’s own');
});

it('entries have ids of their own, and a new run watches the query it is made for', () => {
	const once = watching(run, 'reach');
	expect(watching(once, 'reach').watch).toEqual([{ query: 'reach' }, { id: 'reach-2', query: 'reach' }]);
	const quay = example('harl-quay');
	const made = withNewRun(quay, 'gaze');
	valid(made.project);
	expect(made.project.runs?.at(-1)).toMatchObject({ id: made.id, name: 'Gaze over time', watch: [{ query: 'gaze' }] });
	const blank = withNewRun(quay, null);
	valid(blank.project);
	expect(blank.project.runs?.at(-1)?.watch).toBeUndefined();
});

it('every memory side by side is a run that may be', () => {
	const quay = example('harl-quay');
	const other = withEveryMemory(quay.runs?.[0] as Run, 'reach', 0.3);
	valid({ ...quay, checks: [], runs: [other] });
	expect(other.watch?.map((w) => w.id)).toEqual(['own', 'one-own', 'one-any', 'stick']);
});

it('effects are said in sentences, and every action is offered one', () => {
	const quay = example('harl-quay');
	const say = (line: Effect['do'][number]) => lineWords(quay, line);
	expect(say({ of: 'target', carriedBy: 'asker', at: [0, 1, -0.8] })).toBe(
		'the target is carried by the asker at 0, 1, -0.8 m',
	);
	expect(say({ of: 'target', carriedBy: { object: 'crank' } })).toBe('the target is carried by Gangway crank');
	expect(say({ of: { object: 'crank' }, release: true })).toBe('Gangway crank is let go where it is');
	expect(say({ of: 'scene', set: { states: { 'tide-high': true } } })).toBe('the scene’s tide-high becomes yes');
	expect(say({ of: 'asker', add: { uses: 2 } })).toBe('the asker’s uses goes up by 2');
	expect(say({ of: 'asker', add: { uses: -1 } })).toBe('the asker’s uses goes down by 1');
	expect(say({ of: 'target', set: { shapes: { lid: { enabled: false } }, prompt: null } })).toBe(
		'the target’s shape lid is gone, the target’s prompt becomes none',
	);
	const actions = actionsIn(quay);
	expect(actions.slice(0, 2)).toEqual(['lift', 'put-down']);
	expect(actions).toContain('tie-up');
	expect(new Set(actions).size).toBe(actions.length);
});
