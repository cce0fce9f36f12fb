/** The search of the roster: words that must all be found, plain or with a field before a colon. */
import { type Project, type SceneObject, STAGE_WORDS, type Verdict } from '@frelk/core';

const FIELDS = ['name', 'tag', 'layer', 'state', 'verdict', 'side'] as const;
type Field = (typeof FIELDS)[number];

function familyOf(project: Project, tag: string): string[] {
	const line: string[] = [];
	for (
		let at: string | undefined = tag;
		at !== undefined && !line.includes(at);
		at = project.scene.tags.find((t) => t.id === at)?.under
	)
		line.push(at);
	return line;
}

/** What an object can be found by. */
function wordsOf(project: Project, object: SceneObject, verdict: Verdict | undefined): Record<Field, string[]> {
	const layer = project.scene.layers.find((l) => l.id === object.layer);
	return {
		name: [object.id, object.name ?? ''],
		tag: (object.tags ?? []).flatMap((tag) => familyOf(project, tag)),
		layer: [object.layer, layer?.name ?? ''],
		state: Object.entries(object.states ?? {}).flatMap(([state, value]) => [value === false ? `no ${state}` : state]),
		verdict: verdict ? [verdict.stage, STAGE_WORDS[verdict.stage]] : [],
		side: object.side === undefined ? [] : [object.side],
	};
}

/** @returns the objects that answer to every word, in scene order */
export function found(
	project: Project,
	objects: readonly SceneObject[],
	verdicts: ReadonlyMap<string, Verdict>,
	text: string,
): SceneObject[] {
	const wanted = text
		.toLowerCase()
		.split(/\s+/)
		.filter((word) => word !== '')
		.map((word) => {
			const [head, ...rest] = word.split(':');
			const field = FIELDS.find((f) => f === head);
			return field && rest.length > 0 ? { field, word: rest.join(':') } : { field: null, word };
		});
	if (wanted.length === 0) return [...objects];
	return objects.filter((object) => {
		const words = wordsOf(project, object, verdicts.get(object.id));
		return wanted.every(({ field, word }) =>
			(field ? words[field] : FIELDS.flatMap((f) => words[f])).some((w) => w.toLowerCase().includes(word)),
		);
	});
}
