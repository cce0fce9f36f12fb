/** A new query with sensible parts, and an answer in a few words. */
import {
	type Answer,
	hasRoom,
	type OverlapQuery,
	type Project,
	type Query,
	type QueryKind,
	type SceneObject,
	type Vec3,
} from '@frelk/core';
import { nameOf } from '../../model/names';

export function answerWords(project: Project, answer: Answer | undefined): string {
	if (!answer) return '';
	if (answer.room) return hasRoom(answer) ? 'there is room' : answer.room.free ? 'free, but not borne' : 'no room';
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

/** Whether an object is a floor: wide, low, and nobody asks from it. */
export function isFloor(object: SceneObject | undefined): boolean {
	const shape = object?.shapes?.length === 1 ? object.shapes[0] : undefined;
	if (shape?.kind !== 'box') return false;
	const [w, h, d] = shape.size;
	return h <= 0.5 && Math.min(w, d) >= 6 * h && Math.max(w, d) >= 3;
}

/** Who asks by default: whoever is in hand and can; the last one who asked; whoever has an eye. Never a floor. */
export function likelyAsker(project: Project, picked: string | null): string | undefined {
	const { scene, queries } = project;
	const known = new Map(scene.objects.map((o) => [o.id, o]));
	const eyed = scene.cameras.find((c) => c.object !== undefined && known.has(c.object))?.object;
	if (picked !== null && scene.cameras.some((c) => c.object === picked)) return picked;
	const last = queries.findLast((q) => q.asker !== undefined && known.has(q.asker))?.asker;
	return last ?? eyed ?? (picked !== null && !isFloor(known.get(picked)) ? picked : undefined);
}

/**
 * A new query of a kind with sensible parts from the project.
 * @param asker who asks, where that is known already
 */
export function freshQuery(project: Project, kind: QueryKind, picked: string | null, asker?: string): Query | null {
	const { scene } = project;
	const flat = scene.kind === 'flat';
	const taken = new Set(project.queries.map((q) => q.id));
	let n = 1;
	while (taken.has(`${kind}-${n}`)) n++;
	const base = { id: `${kind}-${n}`, name: `${kind[0]?.toUpperCase()}${kind.slice(1)} ${n}` };
	const who = asker ?? likelyAsker(project, picked);
	const asked = who === undefined ? {} : { asker: who };
	const camera = scene.cameras.find((c) => c.object !== undefined && c.object === who);
	const at = who === undefined ? { point: [0, 0, 0] as [number, number, number] } : { object: who };
	const ahead = (flat ? [1, 0, 0] : [0, 0, -1]) as [number, number, number];
	const from = camera && !flat ? { camera: camera.id } : who === undefined ? at : { focus: who };
	const of = camera && !flat ? camera.id : who;
	const aim = { along: ahead, ...(of === undefined ? {} : { of }) };
	switch (kind) {
		case 'ray':
			return { ...base, kind, from, aim, length: 5, ...asked };
		case 'pick': {
			const through = camera ?? scene.cameras[0];
			return through ? { ...base, kind, camera: through.id, viewport: [960, 540], ...asked } : null;
		}
		case 'sweep':
			return {
				...base,
				kind,
				from,
				aim,
				length: 5,
				shape: flat ? { kind: 'circle', radius: 0.2 } : { kind: 'sphere', radius: 0.2 },
				...asked,
			};
		case 'overlap':
			return {
				...base,
				kind,
				at,
				shape: flat ? { kind: 'circle', radius: 1 } : { kind: 'sphere', radius: 1.5 },
				...asked,
			};
		case 'hitbox':
			return who === undefined
				? null
				: {
						...base,
						kind,
						asker: who,
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

/** A volume that asks for room stands so far above what is to bear it: on it, it would touch it, and that would be in the way. Metres. */
const RAISED = 0.01;

/**
 * A question of room: may this object stand where it stands, or, without one, a volume of a metre at a place.
 * @param picked the object whose shapes are asked for; null, a floor or one without shapes for the volume
 * @param at where the volume stands
 */
export function freshRoom(project: Project, picked: string | null, at: Vec3): OverlapQuery {
	const flat = project.scene.kind === 'flat';
	const object = project.scene.objects.find((o) => o.id === picked);
	const taken = new Set(project.queries.map((q) => q.id));
	let n = 1;
	while (taken.has(`room-${n}`)) n++;
	const base = { id: `room-${n}`, kind: 'overlap', choose: { take: 'all' }, room: { on: { layers: 'all' } } } as const;
	if (object && !isFloor(object) && (object.shapes?.length ?? 0) > 0)
		return {
			...base,
			name: `Room for ${object.name ?? object.id}`,
			at: { object: object.id },
			shape: { like: object.id },
			offset: [0, RAISED, 0],
			asker: object.id,
		};
	return {
		...base,
		name: `Room ${n}`,
		at: { point: [...at] },
		shape: flat ? { kind: 'rect', size: [1, 1] } : { kind: 'box', size: [1, 1, 1] },
		offset: [0, 0.5 + RAISED, 0],
	};
}
