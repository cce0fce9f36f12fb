/** A new query with sensible parts, and an answer in a few words. */
import type { Answer, Project, Query, QueryKind } from '@frelk/core';
import { nameOf } from '../../model/names';

export function answerWords(project: Project, answer: Answer | undefined): string {
	if (!answer) return '';
	const name = (id: string) => nameOf(project, 'object', id);
	switch (answer.status) {
		case 'selected': {
			const [first, ...rest] = answer.selected;
			return `${name(first?.object ?? '')}${rest.length > 0 ? ` and ${rest.length} more` : ''}`;
		}
		case 'tie':
			return `tie: ${answer.tied.map(name).join(', ')}`;
		case 'none':
			return 'nothing';
		case 'off':
			return 'off';
		case 'waiting':
			return 'waiting';
	}
}

/** A new query of a kind with sensible parts from the project. */
export function freshQuery(project: Project, kind: QueryKind, picked: string | null): Query | null {
	const { scene } = project;
	const flat = scene.kind === 'flat';
	const taken = new Set(project.queries.map((q) => q.id));
	let n = 1;
	while (taken.has(`${kind}-${n}`)) n++;
	const base = { id: `${kind}-${n}`, name: `${kind[0]?.toUpperCase()}${kind.slice(1)} ${n}` };
	const object = picked ?? scene.objects[0]?.id;
	const at = object === undefined ? { point: [0, 0, 0] as [number, number, number] } : { object };
	const aim = {
		along: (flat ? [1, 0, 0] : [0, 0, -1]) as [number, number, number],
		...(object === undefined ? {} : { of: object }),
	};
	const asker = object === undefined ? {} : { asker: object };
	switch (kind) {
		case 'ray':
			return { ...base, kind, from: object === undefined ? at : { focus: object }, aim, length: 5, ...asker };
		case 'pick':
			return scene.cameras[0] ? { ...base, kind, camera: scene.cameras[0].id, viewport: [960, 540] } : null;
		case 'sweep':
			return {
				...base,
				kind,
				from: object === undefined ? at : { focus: object },
				aim,
				length: 5,
				shape: flat ? { kind: 'circle', radius: 0.2 } : { kind: 'sphere', radius: 0.2 },
				...asker,
			};
		case 'overlap':
			return {
				...base,
				kind,
				at,
				shape: flat ? { kind: 'circle', radius: 1 } : { kind: 'sphere', radius: 1.5 },
				...asker,
			};
		case 'hitbox':
			return object === undefined
				? null
				: {
						...base,
						kind,
						asker: object,
						boxes: [
							{
								shape: flat ? { kind: 'rect', size: [1, 1] } : { kind: 'box', size: [1, 1, 1] },
								at: flat ? [0.8, 0, 0] : [0, 1, -0.8],
								from: 0,
								until: 0.3,
							},
						],
					};
	}
}
