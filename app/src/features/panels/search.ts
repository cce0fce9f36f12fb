/** The search of the roster: words that must all be found, plain or with a field before a colon. */
import { type Camera, type Project, type SceneObject, STAGE_WORDS, type Verdict } from '@frelk/core';

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

type Listed = { kind: 'object'; object: SceneObject } | { kind: 'camera'; camera: Camera };

/** @returns the objects that answer to every word, in scene order, and after them the cameras that do by their name */
export function found(
	project: Project,
	objects: readonly SceneObject[],
	verdicts: ReadonlyMap<string, Verdict>,
	text: string,
): Listed[] {
	const wanted = text
		.toLowerCase()
		.split(/\s+/)
		.filter((word) => word !== '')
		.map((word) => {
			const [head, ...rest] = word.split(':');
			const field = FIELDS.find((f) => f === head);
			return field && rest.length > 0 ? { field, word: rest.join(':') } : { field: null, word };
		});
	const answers = (words: Partial<Record<Field, string[]>>): boolean =>
		wanted.every(({ field, word }) =>
			(field ? (words[field] ?? []) : FIELDS.flatMap((f) => words[f] ?? [])).some((w) =>
				w.toLowerCase().includes(word),
			),
		);
	return [
		...objects
			.filter((object) => wanted.length === 0 || answers(wordsOf(project, object, verdicts.get(object.id))))
			.map((object): Listed => ({ kind: 'object', object })),
		...project.scene.cameras
			.filter((camera) => answers({ name: [camera.id, camera.name ?? '', 'camera'] }))
			.map((camera): Listed => ({ kind: 'camera', camera })),
	];
}
