/** The same project elsewhere: what it answers must not hang on where the origin lies, and which way is ahead. */
import { multiply, rotationOf, turned } from '../geometry/matrix';
import type { Anchor, Direction, Project, Query } from '../project/schema';

type V3 = readonly [number, number, number];

export interface Motion {
	yaw: number;
	shift: V3;
	scale: number;
	flat: boolean;
}

/** The whole scene under a turn about the vertical (flat: in the plane), a shift and a uniform scale. */
export function moved(project: Project, motion: Motion): Project {
	const { yaw, shift, scale, flat } = motion;
	const R = rotationOf(flat ? [0, 0, yaw] : [yaw, 0, 0]);
	const place = (p: V3 | undefined): V3 => {
		const [x, y, z] = turned(R, ...(p ?? [0, 0, 0]));
		return [scale * x + shift[0], scale * y + shift[1], scale * z + shift[2]];
	};
	const size = (p: V3): V3 => [scale * p[0], scale * p[1], scale * p[2]];
	const anglesOf = (m: Float64Array): V3 => {
		const deg = 180 / Math.PI;
		if (flat) return [0, 0, Math.atan2(m[3], m[0]) * deg];
		const sin = -m[5];
		// Looking straight up or down yaw and roll are one turn.
		if (Math.abs(sin) > 1 - 1e-12) return [Math.atan2(Math.sign(sin) * m[1], m[0]) * deg, Math.sign(sin) * 90, 0];
		return [Math.atan2(m[2], m[8]) * deg, Math.asin(sin) * deg, Math.atan2(m[3], m[4]) * deg];
	};
	const turn = (r: V3 | undefined): V3 => anglesOf(multiply(R, rotationOf(r)));
	const shape = <T extends object>(s: T): T => {
		const out = { ...s } as Record<string, unknown>;
		for (const key of ['size', 'at'] as const)
			if (Array.isArray(out[key])) out[key] = (out[key] as number[]).map((v) => v * scale);
		for (const key of ['radius', 'height', 'grow'] as const)
			if (typeof out[key] === 'number') out[key] = out[key] * scale;
		if (Array.isArray(out.points)) out.points = (out.points as number[][]).map((p) => p.map((v) => v * scale));
		if (Array.isArray(out.vertices)) out.vertices = (out.vertices as number[]).map((v) => v * scale);
		return out as unknown as T;
	};
	const anchor = (a: Anchor): Anchor => {
		if (a.point) return { point: place(a.point) };
		if (a.offset) return { ...a, offset: size(a.offset) };
		return a.off === undefined ? a : { ...a, off: a.off * scale };
	};
	const way = (a: Direction): Direction => {
		if (a.toward) return { toward: anchor(a.toward) };
		return a.of === undefined ? { along: turned(R, ...(a.along ?? [0, 0, 0])) } : a;
	};
	const query = (q: Query): Query => {
		const out = structuredClone(q) as Query & Record<string, unknown>;
		if (out.kind === 'ray' || out.kind === 'sweep') {
			out.from = anchor(out.from);
			if (out.to) out.to = anchor(out.to);
			if (out.aim) out.aim = way(out.aim);
			if (out.length !== undefined) out.length *= scale;
		}
		if (out.kind === 'sweep') {
			out.shape = shape(out.shape);
			out.rotation = turn(out.rotation);
		}
		if (out.kind === 'overlap') {
			const { at } = out;
			const turning = (out.turns ?? true) && (at.object ?? at.focus ?? at.camera) !== undefined;
			out.at = anchor(at);
			out.shape = shape(out.shape);
			if (turning) {
				if (out.offset) out.offset = size(out.offset);
			} else {
				if (out.offset) out.offset = size(turned(R, ...out.offset));
				out.rotation = turn(out.rotation);
			}
		}
		if (out.kind === 'hitbox')
			out.boxes = out.boxes.map((b) => ({ ...b, shape: shape(b.shape), ...(b.at ? { at: size(b.at) } : {}) }));
		if (out.range) {
			if (out.range.min !== undefined) out.range.min *= scale;
			if (out.range.max !== undefined) out.range.max *= scale;
			if (out.range.from) out.range.from = anchor(out.range.from);
		}
		if (out.view?.about) out.view.about = way(out.view.about);
		if (out.sight?.from) out.sight.from = anchor(out.sight.from);
		if ((out.kind === 'ray' || out.kind === 'pick') && out.assist?.by === 'distance') out.assist.within *= scale;
		for (const rule of out.choose?.by ?? [])
			if (rule.rule === 'distance' && rule.slack !== undefined) rule.slack *= scale;
		return out;
	};
	const { scene } = project;
	return {
		...project,
		queries: project.queries.map(query),
		scene: {
			...scene,
			tieSlack: (scene.tieSlack ?? 0.001) * scale,
			objects: scene.objects.map((o) => ({
				...o,
				position: o.parent === undefined ? place(o.position) : size(o.position ?? [0, 0, 0]),
				rotation: o.parent === undefined ? turn(o.rotation) : o.rotation,
				...(o.focus ? { focus: size(o.focus) } : {}),
				shapes: (o.shapes ?? []).map(shape),
			})),
			cameras: scene.cameras.map((c) => ({
				...c,
				position: c.object === undefined ? place(c.position) : size(c.position),
				...(flat ? {} : { rotation: c.object === undefined ? turn(c.rotation) : (c.rotation ?? [0, 0, 0]) }),
				far: (c.far ?? 1000) * scale,
				...(c.projection === 'orthographic' ? { height: c.height * scale } : {}),
			})) as Project['scene']['cameras'],
		},
	};
}
