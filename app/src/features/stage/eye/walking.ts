/** First person: who looks walks and turns by the keyboard, and the answers follow. */

import type { Project, Query, Vec3, World, WorldObject } from '@frelk/core';
import { tripleOf } from '@frelk/core';
import { shiftObject } from '../../edit/objects';
import { stepOf } from '../handles/object-handles';

interface Mover {
	name: string;
	/** The object that walks, or null where a free camera does. */
	object: WorldObject | null;
	camera: string | null;
}

const STEP = 0.25;
const TURN = 5;

/** Who walks when a query's eye walks: the camera's object, the asker, or the camera itself. */
export function moverOf(world: World, query: Query | null, through: string | null = null): Mover | null {
	if (world.flat) return null;
	const id =
		through !== null
			? through
			: query?.kind === 'pick'
				? query.camera
				: query?.kind === 'ray' || query?.kind === 'sweep'
					? query.from.camera
					: undefined;
	const camera = id === undefined ? null : (world.cameras.get(id) ?? null);
	const asker = query?.asker === undefined ? null : (world.objectById.get(query.asker) ?? null);
	const object = camera ? (camera.object ?? null) : asker;
	if (!object && !camera) return null;
	return {
		name: object ? (object.def.name ?? object.id) : (camera?.def.name ?? camera?.id ?? ''),
		object,
		camera: camera?.id ?? null,
	};
}

interface Key {
	key: string;
	shiftKey: boolean;
}

/** What a key does to who walks; null for a key that means nothing here. */
export function walkStep(
	mover: Mover,
	{ key, shiftKey }: Key,
	world: World,
	query: Query | null,
): ((draft: Project) => void) | null {
	const ahead = key === 'ArrowUp' ? STEP : key === 'ArrowDown' ? -STEP : 0;
	const side = key === 'ArrowRight' ? 1 : key === 'ArrowLeft' ? -1 : 0;
	const look = key === 'PageUp' ? TURN : key === 'PageDown' ? -TURN : 0;
	if (ahead === 0 && side === 0 && look === 0) return null;
	return walkBy(
		mover,
		{ ahead, right: shiftKey ? side * STEP : 0, turn: shiftKey ? 0 : -side * TURN, look },
		world,
		query,
	);
}

/** A piece of a walk: metres forward and to the right, degrees to the left and upwards. */
interface WalkPiece {
	ahead: number;
	right: number;
	turn: number;
	look: number;
}

export function walkBy(
	mover: Mover,
	{ ahead, right, turn, look }: WalkPiece,
	world: World,
	query: Query | null,
): (draft: Project) => void {
	return (draft) => {
		const { object } = mover;
		if (look !== 0) lookUp(draft, mover, query, look);
		if (object) {
			if (ahead !== 0 || right !== 0) shiftObject(draft, world, object.id, stepOf(object, ahead, right, false));
			const target = draft.scene.objects.find((o) => o.id === object.id);
			if (turn !== 0 && target) {
				const [yaw, pitch, roll] = target.rotation ?? [0, 0, 0];
				target.rotation = [yaw + turn, pitch, roll];
			}
			return;
		}
		const camera = draft.scene.cameras.find((c) => c.id === mover.camera);
		if (!camera) return;
		const [yaw, pitch, roll] = camera.rotation ?? [0, 0, 0];
		if (turn !== 0) camera.rotation = [yaw + turn, pitch, roll];
		const a = (yaw * Math.PI) / 180;
		const step: Vec3 = [-Math.sin(a) * ahead + Math.cos(a) * right, 0, -Math.cos(a) * ahead - Math.sin(a) * right];
		const { position } = camera;
		camera.position = tripleOf((k) => Number((position[k] + step[k]).toFixed(4)));
	};
}

function lookUp(draft: Project, mover: Mover, query: Query | null, by: number): void {
	if (mover.camera !== null) {
		const camera = draft.scene.cameras.find((c) => c.id === mover.camera);
		if (!camera) return;
		const [yaw, pitch, roll] = camera.rotation ?? [0, 0, 0];
		camera.rotation = [yaw, Math.max(-89, Math.min(89, pitch + by)), roll];
		return;
	}
	const target = draft.queries.find((q) => q.id === query?.id);
	if ((target?.kind !== 'ray' && target?.kind !== 'sweep') || !target.aim?.along) return;
	const [x, y, z] = target.aim.along;
	const level = Math.hypot(x, z);
	const pitch = Math.max(-1.55, Math.min(1.55, Math.atan2(y, level) + (by * Math.PI) / 180));
	const scale = level === 0 ? 0 : Math.cos(pitch) / level;
	target.aim.along = [
		Number((x * scale).toFixed(6)),
		Number(Math.sin(pitch).toFixed(6)),
		Number((z * scale).toFixed(6)),
	];
}
