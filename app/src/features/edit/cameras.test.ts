import { buildWorld, checkProject, type Project } from '@frelk/core';
import { turned } from '@frelk/core/geometry';
import { box, object, project as scene } from '@frelk/core/tests/scene';
import { describe, expect, it } from 'vitest';
import { cameraHandles, lookedAt } from '../stage/handles/camera-handles';
import { addCamera, aimCamera, placeCamera, shiftCamera } from './cameras';

const withCamera = (on?: string): Project => {
	const p = scene(
		[
			object('man', [3, 0, -2], [box([0.4, 1.8, 0.4], { at: [0, 0.9, 0] })], {
				rotation: [40, 0, 0],
				scale: [2, 2, 2],
			}),
			object('wall', [0, 0, -9], [box([30, 6, 1], { at: [0, 3, 0] })]),
		],
		[],
	);
	p.scene.cameras = [
		{
			id: 'eye',
			position: [0, 0.8, 0],
			rotation: [10, -5, 7],
			projection: 'perspective',
			fov: 60,
			...(on === undefined ? {} : { object: on }),
		},
	];
	return p;
};
const changed = (p: Project, recipe: (draft: Project) => void) => {
	const next: Project = JSON.parse(JSON.stringify(p));
	recipe(next);
	const checked = checkProject(JSON.parse(JSON.stringify(next)));
	expect(checked.ok ? [] : checked.problems).toEqual([]);
	const eye = buildWorld(next).cameras.get('eye');
	if (!eye) throw new Error('no eye');
	return { next, eye, dir: turned(eye.rotation, 0, 0, -1) };
};

describe.each([undefined, 'man'])('a camera on %s', (on) => {
	const p = withCamera(on);
	const world = buildWorld(p);

	it('is put where it should stand in the world', () => {
		const { eye } = changed(p, (draft) => placeCamera(draft, world, 'eye', [1, 2, 3]));
		for (const [k, v] of [1, 2, 3].entries()) expect(eye.position[k]).toBeCloseTo(v, 3);
		const before = world.cameras.get('eye')?.position ?? [];
		const shifted = changed(p, (draft) => shiftCamera(draft, world, 'eye', [0.5, 0, -1])).eye;
		for (const [k, v] of [0.5, 0, -1].entries()) expect(shifted.position[k]).toBeCloseTo((before[k] ?? 0) + v, 3);
	});

	it('looks along the direction asked for, its roll kept', () => {
		for (const way of [
			[0, 0, -1],
			[1, 0.4, 2],
			[-3, -1, 0.2],
		] as const) {
			const { dir, next } = changed(p, (draft) => aimCamera(draft, world, 'eye', way));
			const length = Math.hypot(...way);
			for (const [k, v] of way.entries()) expect(dir[k]).toBeCloseTo(v / length, 4);
			expect(next.scene.cameras[0]?.rotation?.[2]).toBe(7);
		}
	});

	it('aimed straight up keeps its yaw, and a direction of no length changes nothing', () => {
		const up = changed(p, (draft) => aimCamera(draft, world, 'eye', [0, 5, 0]));
		expect(up.next.scene.cameras[0]?.rotation).toEqual([10, 90, 7]);
		expect(changed(p, (draft) => aimCamera(draft, world, 'eye', [0, 0, 0])).next).toEqual(p);
	});

	it('has handles that put it and what it looks at where they are pulled', () => {
		const eye = world.cameras.get('eye');
		if (!eye) throw new Error('no eye');
		const handles = cameraHandles(world, eye);
		expect(handles.map((h) => h.id)).toEqual(['camera-place', 'camera-height', 'camera-aim', 'camera-aim-height']);
		const target = lookedAt(world, eye);
		const aim = handles[2];
		const high = handles[3];
		if (aim?.kind !== 'point' || high?.kind !== 'line') throw new Error('not as expected');
		const { eye: at, dir } = changed(p, (draft) => aim.set(draft, [target[0] + 1, target[1], target[2]]));
		const way = [target[0] + 1 - at.position[0], target[1] - at.position[1], target[2] - at.position[2]];
		for (const k of [0, 1, 2]) expect(dir[k]).toBeCloseTo((way[k] ?? 0) / Math.hypot(...way), 4);
		expect(high.value).toBe(target[1]);
		const risen = changed(p, (draft) => high.set(draft, target[1] + 2)).dir;
		expect(risen[1]).toBeGreaterThan(turned(eye.rotation, 0, 0, -1)[1]);
	});
});

it('looks at the first surface before it, and at a place ahead where there is none; not at what it hangs on', () => {
	const ahead = withCamera();
	ahead.scene.cameras[0] = { id: 'eye', position: [0, 1, 0], projection: 'perspective', fov: 60 };
	const world = buildWorld(ahead);
	const eye = world.cameras.get('eye');
	if (!eye) throw new Error('no eye');
	expect(lookedAt(world, eye)[2]).toBeCloseTo(-8.5, 9);
	// Farther than it sees.
	eye.far = 8.4;
	expect(lookedAt(world, eye)[2]).toBeCloseTo(-4, 9);
	eye.far = 8.5;
	expect(lookedAt(world, eye)[2]).toBeCloseTo(-8.5, 9);
	const onMan = buildWorld(withCamera('man'));
	const own = onMan.cameras.get('eye');
	if (!own) throw new Error('no eye');
	expect(Math.hypot(...lookedAt(onMan, own).map((v, k) => v - own.position[k]))).toBeGreaterThan(1);
});

it('a new camera has a free id and name, on an object or by itself, in both kinds of scene', () => {
	const p = withCamera();
	expect(addCamera(p, null, false)).toBe('camera-2');
	expect(addCamera(p, 'man', false)).toBe('camera-3');
	p.scene.cameras.splice(1, 1);
	expect(addCamera(p, null, false)).toBe('camera-4');
	expect(p.scene.cameras.map((c) => c.object)).toEqual([undefined, 'man', undefined]);
	expect(checkProject(JSON.parse(JSON.stringify(p))).ok).toBe(true);
	expect(addCamera(p, null, true)).toBe('camera-5');
	expect(p.scene.cameras.at(-1)).toMatchObject({ projection: 'orthographic', position: [0, 0, 10] });
});
