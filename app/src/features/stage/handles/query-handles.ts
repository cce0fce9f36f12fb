/** Handles of the query in hand: origin, end, aim, length, volume faces, range, view and aim assist. */
import type { Placement, Project, Query, Vec3, World } from '@frelk/core';
import { unturned } from '@frelk/core/geometry';
import type { P3 } from '../../../drawing/view';
import { localOf } from '../../edit/objects';
import { type Handle, type LineHandle, plus, round3 } from './handles';
import { type Sized, sizeHandles } from './size-handles';

const queryIn = (draft: Project, id: string): Query | undefined => draft.queries.find((q) => q.id === id);

/** Origin, end, aim, length, volume faces, range, view and assist of the query in hand. */
export function queryHandles(world: World, query: Query, placement: Placement): Handle[] {
	const { flat } = world;
	const list: Handle[] = [];
	const axis = flat ? 2 : 1;
	const grid = flat ? 0.01 : 0.05;
	const edit = (recipe: (q: Query) => void) => (draft: Project) => {
		const q = queryIn(draft, query.id);
		if (q) recipe(q);
	};
	const anchorPoint = (id: string, label: string, at: P3, put: (q: Query, at: Vec3) => void) =>
		list.push({
			kind: 'point',
			id,
			label,
			at,
			of: 'query',
			step: grid,
			grid,
			axis,
			set: (draft, p) => edit((q) => put(q, p))(draft),
		});

	const { path } = placement;
	if (path && (query.kind === 'ray' || query.kind === 'sweep')) {
		const moveAnchor = (anchor: 'from' | 'to', label: string, at: P3) => {
			const now = query[anchor];
			if (now?.point)
				anchorPoint(
					anchor,
					label,
					at,
					(q, p) =>
						(q.kind === 'ray' || q.kind === 'sweep') && void (q[anchor] = { point: flat ? [p[0], p[1], 0] : p }),
				);
			else if (now?.object !== undefined) {
				const object = world.objectById.get(now.object);
				if (object)
					anchorPoint(
						anchor,
						label,
						at,
						(q, p) =>
							(q.kind === 'ray' || q.kind === 'sweep') &&
							void (q[anchor] = {
								object: object.id,
								offset: localOf(object, flat ? [p[0], p[1], object.position[2]] : p),
							}),
					);
			}
		};
		moveAnchor('from', 'Start of the path', path.start);
		if (query.to) moveAnchor('to', 'End of the path', plus(path.start, path.dir, path.length));
		else {
			const of = query.aim?.of;
			const m =
				of === undefined ? null : (world.objectById.get(of)?.rotation ?? world.cameras.get(of)?.rotation ?? null);
			const knob = Math.min(path.length, flat ? 0.5 : 2.5) * 0.8;
			const level = flat || Math.abs(path.dir[1]) < 0.97;
			if (query.aim?.along && level) {
				const heading = flat ? Math.atan2(path.dir[1], path.dir[0]) : Math.atan2(-path.dir[0], -path.dir[2]);
				list.push({
					kind: 'angle',
					id: 'aim',
					label: 'Aim',
					at: plus(path.start, path.dir, knob),
					of: 'query',
					step: 1,
					grid: 0,
					centre: path.start,
					axis,
					value: (heading * 180) / Math.PI,
					unit: '°',
					set: (draft, degrees) =>
						edit((q) => {
							if ((q.kind !== 'ray' && q.kind !== 'sweep') || !q.aim?.along) return;
							const a = (degrees * Math.PI) / 180;
							const flatPart = Math.hypot(path.dir[0], path.dir[2]);
							const dir: P3 = flat
								? [Math.cos(a), Math.sin(a), 0]
								: [-Math.sin(a) * flatPart, path.dir[1], -Math.cos(a) * flatPart];
							q.aim.along = round3(m ? unturned(m, ...(dir as Vec3)) : dir);
						})(draft),
				});
			}
			if (path.length <= 200)
				list.push({
					kind: 'line',
					id: 'length',
					label: 'Length',
					at: plus(path.start, path.dir, path.length),
					of: 'query',
					step: grid,
					grid,
					origin: path.start,
					dir: path.dir,
					per: 1,
					value: path.length,
					min: 0,
					unit: 'm',
					set: (draft, length) =>
						edit((q) => (q.kind === 'ray' || q.kind === 'sweep') && void (q.length = length))(draft),
				});
		}
	}
	if (path && query.kind === 'sweep' && path.swept)
		list.push(
			...sizeHandles(
				'query',
				'swept shape',
				query.shape as Sized,
				path.start,
				path.swept.m,
				[1, 1, 1],
				flat,
				(draft, recipe) => edit((q) => q.kind === 'sweep' && recipe(q.shape as Sized))(draft),
			),
		);
	if (query.kind === 'overlap') {
		const volume = placement.volumes[0];
		if (query.at.point)
			anchorPoint(
				'at',
				'Middle of the volume',
				placement.measuring,
				(q, p) => q.kind === 'overlap' && void (q.at = { point: flat ? [p[0], p[1], 0] : p }),
			);
		else if (query.at.object !== undefined) {
			const object = world.objectById.get(query.at.object);
			if (object)
				anchorPoint(
					'at',
					'Middle of the volume',
					placement.measuring,
					(q, p) =>
						q.kind === 'overlap' &&
						void (q.at = { object: object.id, offset: localOf(object, flat ? [p[0], p[1], object.position[2]] : p) }),
				);
		}
		if ('like' in query.shape) {
			if (volume) list.push(grownBy(query, placement, axis, grid, edit));
		} else if (volume)
			list.push(
				...sizeHandles(
					'query',
					'volume',
					query.shape as Sized,
					[volume.body.x, volume.body.y, volume.body.z],
					volume.body.m,
					[1, 1, 1],
					flat,
					(draft, recipe) =>
						edit((q) => q.kind === 'overlap' && !('like' in q.shape) && recipe(q.shape as Sized))(draft),
				),
			);
	}
	if (query.kind === 'hitbox') {
		const asker = world.objectById.get(query.asker);
		for (const volume of placement.volumes) {
			const box = query.boxes[volume.box];
			if (!box || !asker) continue;
			const name = query.boxes.length > 1 ? `box ${volume.box + 1}` : 'box';
			const centre: P3 = [volume.body.x, volume.body.y, volume.body.z];
			anchorPoint(`${name} place`, `Place of ${name}`, centre, (q, p) => {
				const target = q.kind === 'hitbox' ? q.boxes[volume.box] : undefined;
				const local = localOf(asker, flat ? [p[0], p[1], asker.position[2]] : p);
				if (target) target.at = flat ? [local[0], local[1], 0] : local;
			});
			list.push(
				...sizeHandles('query', name, box.shape as Sized, centre, volume.body.m, asker.scale, flat, (draft, recipe) =>
					edit((q) => {
						const target = q.kind === 'hitbox' ? q.boxes[volume.box] : undefined;
						if (target) recipe(target.shape as Sized);
					})(draft),
				),
			);
		}
	}
	if (query.range && !placement.flatPick) {
		const centre = placement.rangeFrom ?? placement.measuring;
		const ground: P3 = flat ? centre : [centre[0], 0.01, centre[2]];
		for (const end of ['max', 'min'] as const) {
			const value = query.range[end];
			if (value === undefined || value > 200) continue;
			// Both on one side would lie on each other where the ring is a line.
			const dir: P3 = end === 'max' ? [1, 0, 0] : [-1, 0, 0];
			list.push({
				kind: 'line',
				id: `range-${end}`,
				label: end === 'max' ? 'Farthest' : 'Nearest',
				at: plus(ground, dir, value),
				of: 'query',
				step: grid,
				grid,
				origin: ground,
				dir,
				per: 1,
				value,
				min: 0,
				unit: 'm',
				set: (draft, v) => edit((q) => q.range && void (q.range[end] = v))(draft),
			});
		}
	}
	if (query.view && placement.viewAxis && query.view.within < 180) {
		const heading = flat
			? Math.atan2(placement.viewAxis[1], placement.viewAxis[0])
			: Math.atan2(-placement.viewAxis[0], -placement.viewAxis[2]);
		const side = heading + (query.view.within * Math.PI) / 180;
		const reach = flat ? 0.5 : 2;
		const apex: P3 = flat ? placement.apex : [placement.apex[0], 0.01, placement.apex[2]];
		const at: P3 = flat
			? plus(apex, [Math.cos(side), Math.sin(side), 0], reach)
			: plus(apex, [-Math.sin(side), 0, -Math.cos(side)], reach);
		const about = (heading * 180) / Math.PI;
		list.push({
			kind: 'angle',
			id: 'view',
			label: 'Half-angle of the view',
			at,
			of: 'query',
			step: 1,
			grid: 5,
			centre: apex,
			axis,
			value: query.view.within,
			unit: '°',
			// It is held where the fan ends; what counts is how far that is from its middle.
			measure: (turn) => Math.abs(((turn - about + 540) % 360) - 180),
			set: (draft, v) => edit((q) => q.view && void (q.view.within = Math.max(0, v)))(draft),
		});
	}
	if (
		path &&
		(query.kind === 'ray' || query.kind === 'pick') &&
		query.assist &&
		query.assist.by !== 'pixels' &&
		!placement.flatPick
	) {
		const { by, within } = query.assist;
		const d = Math.min(path.length, flat ? 0.5 : 3);
		const across: P3 = flat ? [-path.dir[1], path.dir[0], 0] : sideways(path.dir);
		const foot = plus(path.start, path.dir, d);
		const per = by === 'distance' ? 1 : 180 / Math.PI / Math.max(d, 1e-6);
		list.push({
			kind: 'line',
			id: 'assist',
			label: by === 'distance' ? 'Aim assist within' : 'Aim assist half-angle',
			at: plus(foot, across, by === 'distance' ? within : Math.tan((Math.min(within, 80) * Math.PI) / 180) * d),
			of: 'query',
			step: by === 'distance' ? grid : 0.5,
			grid: by === 'distance' ? grid : 0.5,
			origin: foot,
			dir: across,
			per,
			value: within,
			min: 0,
			unit: by === 'distance' ? 'm' : '°',
			set: (draft, v) =>
				edit((q) => (q.kind === 'ray' || q.kind === 'pick') && q.assist && void (q.assist.within = v))(draft),
		});
	}
	return list;
}

function sideways(dir: P3): P3 {
	const length = Math.hypot(dir[0], dir[2]);
	return length < 1e-6 ? [1, 0, 0] : [-dir[2] / length, 0, dir[0] / length];
}

function grownBy(
	query: Query,
	placement: Placement,
	axis: 1 | 2,
	grid: number,
	edit: (recipe: (q: Query) => void) => (draft: Project) => void,
): LineHandle {
	const reach = Math.max(...placement.volumes.map((v) => v.body.boundingRadius));
	const dir: P3 = [1, 0, 0];
	const origin = plus(placement.measuring, dir, reach);
	return {
		kind: 'line',
		id: 'grow',
		label: 'Grown by',
		at: plus(origin, dir, placement.grow),
		of: 'query',
		step: axis === 2 ? 0.01 : grid,
		grid,
		origin,
		dir,
		per: 1,
		value: placement.grow,
		min: 0,
		unit: 'm',
		set: (draft, v) =>
			edit((q) => q.id === query.id && q.kind === 'overlap' && 'like' in q.shape && void (q.shape.grow = v))(draft),
	};
}
