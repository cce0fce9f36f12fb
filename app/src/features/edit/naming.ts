/** Names and ids: an id comes from the name and follows it until something outside of the scene holds on to it. */
import { type Project, slug } from '@frelk/core';
import { type ReferenceKind, renamed, usesOf } from '@frelk/core/editing';
import type { BenchStore } from '../../model/bench-state';
import { freshId } from './objects';

type Kind = Extract<ReferenceKind, 'object' | 'layer' | 'tag' | 'side' | 'query' | 'moment' | 'camera'>;

interface Named {
	id: string;
	name?: string | undefined;
}

const listOf = (project: Project, kind: Kind): readonly Named[] =>
	({
		object: project.scene.objects,
		layer: project.scene.layers,
		tag: project.scene.tags,
		side: project.scene.sides ?? [],
		camera: project.scene.cameras,
		query: project.queries,
		moment: project.moments ?? [],
	})[kind];

/** Whether an id still says the name: it was made from it, with a number where that was taken. */
const says = ({ id, name }: Named): boolean =>
	name === undefined || id.replace(/-\d+$/, '') === slug(name).replace(/-\d+$/, '');

/** Whether a thing's id goes with its name: it says it now, and no check or run, which others read, holds on to it. */
function follows(project: Project, kind: Kind, id: string): boolean {
	const entry = listOf(project, kind).find((e) => e.id === id);
	return (
		entry !== undefined && says(entry) && !usesOf(project, kind, id).some(([top]) => top === 'checks' || top === 'runs')
	);
}

/** The id that a name gives a thing. */
function idFrom(project: Project, kind: Kind, id: string, name: string): string {
	const taken = listOf(project, kind).map((e) => e.id);
	return freshId(
		taken.filter((other) => other !== id),
		name,
	);
}

/**
 * The project with another name for a thing, and another id where that follows.
 * @returns it with the id the thing has then
 */
function withName(project: Project, kind: Kind, id: string, name: string): { project: Project; id: string } {
	const to = follows(project, kind, id) ? idFrom(project, kind, id, name) : id;
	const next = to === id ? (JSON.parse(JSON.stringify(project)) as Project) : renamed(project, { kind, from: id, to });
	const entry = listOf(next, kind).find((e) => e.id === to);
	if (entry) entry.name = name;
	return { project: next, id: to };
}

/** Names a thing of the open project; an empty name is its id. */
export function nameThing(store: BenchStore, kind: Kind, id: string, wish: string): void {
	const { project, put } = store.getState();
	const entry = listOf(project, kind).find((e) => e.id === id);
	const name = wish.trim();
	if (!entry || name === (entry.name ?? entry.id)) return;
	const next = withName(project, kind, id, name || id);
	put(`Name of ${entry.name ?? id}`, next.project, { kind, from: id, to: next.id });
}

/** Gives a thing another id, in every place that names it. @returns why it cannot be, or null */
export function changeId(store: BenchStore, kind: Kind, id: string, wish: string): string | null {
	const { project, put } = store.getState();
	const to = slug(wish, 64);
	if (to === '' || to === id) return to === '' ? 'an id has letters a to z, digits and hyphens' : null;
	if (listOf(project, kind).some((e) => e.id === to)) return `${to} is taken`;
	put(`Id ${id} becomes ${to}`, renamed(project, { kind, from: id, to }), { kind, from: id, to });
	return null;
}

/** Names a check; its id goes with its name for as long as it says it. An empty name is its id. */
export function nameCheck(store: BenchStore, id: string, wish: string): void {
	const name = wish.trim();
	store.getState().editPlain('Name of a check', (draft) => {
		const check = draft.checks?.find((c) => c.id === id);
		if (!check || name === (check.name ?? check.id)) return;
		const others = (draft.checks ?? []).flatMap((c) => (c === check ? [] : [c.id]));
		if (name === '' || name === id) delete check.name;
		else {
			if (says(check)) check.id = freshId(others, name);
			check.name = name;
		}
	});
}
