import { type Project, readProject, writeProject } from '@frelk/core';
import { example } from '@frelk/core/tests/examples';
import { describe, expect, it } from 'vitest';
import { packed, stampOf, unpacked } from './keep-history';
import { createBench } from './store';

const reloaded = (p: Project): Project => {
	const reading = readProject(writeProject(p));
	if (!reading.ok) throw new Error('not a project');
	return reading.project;
};

function edited() {
	const store = createBench('quay', example('harl-quay'));
	const { edit } = store.getState();
	edit('Move', (d) => void (d.scene.objects[0]!.position = [1, 0, 1]));
	edit('Prompt', (d) => void Object.assign(d.scene.objects[0]!, { prompt: 'Look', active: false }));
	edit('Rename', (d) => void (d.name = 'Another'));
	store.getState().undo();
	return store.getState();
}

describe('the history that is kept', () => {
	it('comes back as it was, to the very states, after the project was written and read', () => {
		const { project, past, future } = edited();
		const kept = JSON.parse(JSON.stringify([packed(project, past), packed(project, future)]));
		const now = reloaded(project);
		const [before, after] = [unpacked(now, kept[0]), unpacked(now, kept[1])];
		expect(before.map((s) => s.label)).toEqual(['Move', 'Prompt']);
		expect(after.map((s) => s.label)).toEqual(['Rename']);
		for (const [i, step] of before.entries()) expect(step.project).toEqual((past[i] as (typeof past)[0]).project);
		expect(after[0]?.project.name).toBe('Another');
	});

	it('tells whether it is still of the project', () => {
		const { project } = edited();
		expect(stampOf(reloaded(project))).toBe(stampOf(project));
		expect(stampOf({ ...project, name: `${project.name}.` })).not.toBe(stampOf(project));
		const moved = JSON.parse(JSON.stringify(project)) as Project;
		moved.scene.objects[3]!.position = [9, 9, 9];
		expect(stampOf(moved)).not.toBe(stampOf(project));
	});

	it('holds the last hundred steps', () => {
		const store = createBench('quay', example('harl-quay'));
		for (let i = 0; i < 103; i++) store.getState().edit(`${i}`, (d) => void (d.name = `n${i}`));
		const { project, past } = store.getState();
		const kept = packed(project, past);
		expect([kept.length, kept[0]?.label, kept[99]?.label]).toEqual([100, '3', '102']);
		expect(unpacked(project, kept)[0]?.project.name).toBe('n2');
	});
});
