/** Names with ids beside, for reports that people read and build servers keep. */

import type { CheckResult } from '../checks/check';
import { failureOf } from '../checks/check';
import type { Project } from '../project/schema';
import type { Naming } from '../query/words';

type ReferenceKind = Parameters<Naming>[0] | 'query' | 'moment' | 'check';

/** @returns what names the things of a project: `Crank (crank)`, or the id alone where that says it */
export function namedWithIds(project: Project): (kind: ReferenceKind, id: string) => string {
	const { scene } = project;
	const lists: Record<ReferenceKind, readonly { id: string; name?: string | undefined }[] | undefined> = {
		object: scene.objects,
		tag: scene.tags,
		layer: scene.layers,
		query: project.queries,
		moment: project.moments,
		check: project.checks,
	};
	const known = new Map<ReferenceKind, Map<string, string>>();
	return (kind, id) => {
		let names = known.get(kind);
		if (!names) {
			names = new Map((lists[kind] ?? []).map((e) => [e.id, e.name ?? e.id]));
			known.set(kind, names);
		}
		const name = names.get(id) ?? id;
		return name === id ? id : `${name} (${id})`;
	};
}

/** Why a check fails, with names; the reason it came with where the project is not at hand. */
export function reasonOf(project: Project | undefined, check: CheckResult): string {
	if (!project || check.pass) return check.reason;
	const query = project.queries.find((q) => q.id === check.query);
	return failureOf(check.wanted, check.got, namedWithIds(project), query) || check.reason;
}
