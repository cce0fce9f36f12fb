/** Handles of an object: its height, heading, sizes and focus; and where it lies in its own axes. */
import type { Project, SceneObject, Vec3, World, WorldObject } from '@frelk/core';
import { multiply, rotationOf, turned } from '@frelk/core/geometry';
import type { P3 } from '../../../drawing/view';
import { extentOf, localOf } from '../../edit/objects';
import { resizeShape } from '../../edit/sizes';
import { type Handle, plus, round, round3 } from './handles';
import { type Sized, sizeHandles } from './size-handles';

/** The height of an object is pulled by a stalk this far above its top, metres. */
export const STALK = 0.25;

const objectIn = (draft: Project, id: string): SceneObject | undefined => draft.scene.objects.find((o) => o.id === id);

/** Height, turn, sizes, focus and approach of one object. */
export function objectHandles(world: World, object: WorldObject): Handle[] {
	const { flat } = world;
	const list: Handle[] = [];
	const { id, def } = object;
	const [, top] = extentOf(world, object, 1);
	const reach = Math.max(flat ? 0.05 : 0.5, ...object.shapes.map((s) => s.body.boundingRadius)) * 1.25;
	if (!flat) {
		const stalk = Math.max(top - object.position[1], 0.2) + STALK;
		list.push({
			kind: 'line',
			id: 'height',
			label: 'Height above ground',
			at: plus(object.position, [0, stalk, 0]),
			of: 'object',
			step: 0.05,
			grid: 0.05,
			origin: [object.position[0], stalk, object.position[2]],
			dir: [0, 1, 0],
			per: 1,
			value: object.position[1],
			min: -1000,
			unit: 'm',
			set: (draft, y) => placeAt(draft, world, id, [object.position[0], y, object.position[2]]),
		});
	}
	const heading = flat
		? Math.atan2(object.rotation[3], object.rotation[0])
		: Math.atan2(object.rotation[2], object.rotation[8]);
	const axis = flat ? 2 : 1;
	const knob: P3 = flat
		? [
				object.position[0] + reach * Math.cos(heading),
				object.position[1] + reach * Math.sin(heading),
				object.position[2],
			]
		: [
				object.position[0] - reach * Math.sin(heading),
				object.position[1],
				object.position[2] - reach * Math.cos(heading),
			];
	list.push({
		kind: 'angle',
		id: 'turn',
		label: flat ? 'Turn' : 'Heading',
		at: knob,
		of: 'object',
		step: 5,
		grid: 15,
		centre: object.position,
		axis,
		value: (heading * 180) / Math.PI,
		unit: '°',
		set: (draft, degrees) => {
			const o = objectIn(draft, id);
			if (!o) return;
			// The turn in the world less that of what it hangs on.
			const up = object.parent
				? flat
					? Math.atan2(object.parent.rotation[3], object.parent.rotation[0])
					: Math.atan2(object.parent.rotation[2], object.parent.rotation[8])
				: 0;
			const own = round(degrees - (up * 180) / Math.PI);
			const [yaw, pitch, roll] = o.rotation ?? [0, 0, 0];
			o.rotation = flat ? [0, 0, own] : [own, pitch, roll];
			if (flat && yaw === 0 && own === 0) delete o.rotation;
		},
	});
	for (const shape of object.shapes) {
		const { body } = shape;
		const depth = flat ? object.position[2] : body.z;
		list.push(
			...sizeHandles(
				'object',
				shape.id,
				shape.def as Sized,
				[body.x, body.y, depth],
				body.m,
				object.scale,
				flat,
				(draft, recipe, hold) => {
					const target = objectIn(draft, id);
					if (target) resizeShape(target, shape.id, (s) => recipe(s as Sized), hold);
				},
			),
		);
	}
	if (def.focus)
		list.push({
			kind: 'point',
			id: 'focus',
			label: 'Focus',
			at: object.focus,
			of: 'object',
			step: flat ? 0.01 : 0.05,
			grid: flat ? 0.01 : 0.05,
			axis: flat ? 2 : 1,
			set: (draft, at) => {
				const o = objectIn(draft, id);
				const local = localOf(object, at);
				if (o) o.focus = flat ? [local[0], local[1], o.focus?.[2] ?? 0] : local;
			},
		});
	return list;
}

/** Writes a world position back as an object's own, under its parent. */
export function placeAt(draft: Project, world: World, id: string, to: readonly number[]): void {
	const object = world.objectById.get(id);
	const target = objectIn(draft, id);
	if (!object || !target) return;
	target.position = object.parent ? localOf(object.parent, to) : round3(to);
}
/** Which way a first-person step goes: forward of an object on the ground, and to its right. */
export function stepOf(object: WorldObject, ahead: number, right: number, flat: boolean): Vec3 {
	if (flat) {
		const [fx, fy] = turned(object.rotation, 1, 0, 0);
		return [fx * ahead + fy * right, fy * ahead - fx * right, 0];
	}
	const yaw = Math.atan2(object.rotation[2], object.rotation[8]);
	const m = multiply(rotationOf([(yaw * 180) / Math.PI, 0, 0]), rotationOf(undefined));
	return turned(m, right, 0, -ahead);
}
