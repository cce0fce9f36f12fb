/** What may be tried where an object is not reached: missed, out of range or view, or approached from the wrong side. */
import { rounded, tripleOf } from '../project/rounding';
import type { Query, QueryOf, Shape } from '../project/schema';
import { degrees, metres } from '../query/words';
import { type Candidate, type Case, outward, plain, steps, wellWith } from './candidate';
import { onObject, onQuery } from './change';
import { leastAlong } from './search';

/** Of an object that is not touched. */
export function reaching(c: Case): Candidate[] {
	const { query, subject, verdict, naming, world } = c;
	const out: Candidate[] = [];
	const asleep = (subject.def.shapes ?? []).filter((s) => s.enabled === false);
	for (const shape of asleep)
		out.push(
			plain(
				'enable',
				`Switch the shape ${shape.name ?? shape.id} of ${naming('object', subject.id)} on`,
				onObject(subject.id, (o) => ({
					shapes: o.shapes?.map((s) => (s.id === shape.id ? { ...s, enabled: true } : s)),
				})),
			),
		);
	if (verdict?.beyond !== undefined && !('to' in query && query.to)) {
		const camera = query.kind === 'pick' ? world.cameras.get(query.camera) : undefined;
		const was = ('length' in query ? query.length : undefined) ?? camera?.far ?? 1000;
		for (const length of steps(was + verdict.beyond, 0.01))
			out.push({
				kind: 'length',
				words: `Make it ${metres(length)} long`,
				recipe: onQuery(query.id, () => ({ length })),
				size: rounded(length - was, 6),
				unit: 'm',
				of: 'length',
			});
	}
	if ((subject.def.shapes ?? []).length === 0) out.push(shaped(c));
	// What it starts in is passed over, at no distance.
	if (
		query.kind !== 'overlap' &&
		query.kind !== 'hitbox' &&
		query.startInside !== 'count' &&
		(verdict?.margin ?? 1) < 1e-6
	)
		out.push(
			plain(
				'start-inside',
				'Count what it starts in',
				onQuery(query.id, () => ({ startInside: 'count' as const })),
			),
		);
	if (query.kind === 'ray' || query.kind === 'pick') out.push(...assists(c));
	if (query.kind === 'overlap') out.push(...grown(c, query.shape, 'its volume', (shape) => ({ ...query, shape })));
	if (query.kind === 'hitbox')
		query.boxes.forEach((box, i) => {
			const what = query.boxes.length > 1 ? `its box ${i + 1}` : 'its box';
			out.push(
				...grown(c, box.shape, what, (shape) => ({
					...query,
					boxes: query.boxes.map((b, k) => (k === i ? { ...b, shape: shape as typeof b.shape } : b)),
				})),
			);
		});
	return out;
}

function assists(c: Case): Candidate[] {
	const query = c.query as Extract<Query, { kind: 'ray' | 'pick' }>;
	const was = query.assist;
	if (query.kind === 'pick' && c.world.flat && was?.by === 'angle') return [];
	const by = was?.by ?? (query.kind === 'pick' ? 'pixels' : 'angle');
	const [step, most, unit] = by === 'pixels' ? [1, 300, 'px'] : by === 'angle' ? [0.1, 60, '°'] : [0.01, 5, 'm'];
	const from = was?.within ?? 0;
	const found = leastAlong(
		(t) => wellWith(c, { ...query, assist: { by, within: rounded(from + t, 6) } } as Query),
		most,
		step,
	);
	if (found === null) return [];
	const within = outward(from + found, step);
	const words = by === 'pixels' ? `${within} px` : by === 'angle' ? degrees(within) : metres(within);
	return [
		{
			kind: 'assist',
			words: `${was ? 'Widen aim assist to' : 'Help the aim within'} ${words}`,
			recipe: onQuery(query.id, () => ({ assist: { by, within } })),
			size: rounded(within - from, 6),
			unit,
		},
	];
}

type VolumeShape = QueryOf<'overlap'>['shape'];

/** A shape that is larger by so much on every side; null where it cannot be said so. */
function larger(shape: VolumeShape, by: number): VolumeShape | null {
	const more = (v: number) => outward(v + by, 0.01);
	if ('like' in shape) return { ...shape, grow: more(shape.grow ?? 0) };
	switch (shape.kind) {
		case 'sphere':
		case 'circle':
			return { ...shape, radius: more(shape.radius) };
		case 'box':
			return { ...shape, size: tripleOf((k) => outward((shape.size[k] as number) + 2 * by, 0.01)) };
		case 'rect':
			return { ...shape, size: shape.size.map((v) => outward(v + 2 * by, 0.01)) as [number, number] };
		case 'capsule':
		case 'cylinder':
			return { ...shape, radius: more(shape.radius), height: outward(shape.height + 2 * by, 0.01) };
		default:
			return null;
	}
}

/** A volume of the query grown to just enough. @param made the query with it */
function grown(c: Case, shape: VolumeShape, what: string, made: (shape: VolumeShape) => Query): Candidate[] {
	if (!larger(shape, 1)) return [];
	const query = (by: number) => made(larger(shape, by) as VolumeShape);
	const found = leastAlong((t) => wellWith(c, query(t)), 20, 0.01);
	if (found === null) return [];
	return [
		{
			kind: 'grow',
			words: `Grow ${what} by ${metres(found)} on every side`,
			recipe: onQuery(c.query.id, () => query(found)),
			size: found,
			unit: 'm',
		},
	];
}

/** A shape for an object that has none, as large as things are here. */
function shaped({ subject, world, naming }: Case): Candidate {
	const sizes = world.shapes.map(({ body }) => body.boundingRadius).sort((a, b) => a - b);
	const side = Math.max(0.01, outward(sizes[sizes.length >> 1] ?? 0.25, 0.05));
	const shape: Shape = world.flat
		? { id: 'shape', kind: 'rect', size: [side, side] }
		: { id: 'shape', kind: 'box', size: [side, side, side] };
	return plain(
		'add-shape',
		`Give ${naming('object', subject.id)} a shape: a ${world.flat ? 'square' : 'cube'} of ${metres(side)}`,
		onObject(subject.id, () => ({ shapes: [shape] })),
	);
}

/** Of one out of range. */
export function ranges({ query, verdict }: Case): Candidate[] {
	const { min, max } = query.range ?? {};
	const margin = verdict?.margin ?? 0;
	const out: Candidate[] = [];
	if (max !== undefined)
		for (const next of steps(max + margin, 0.01))
			out.push({
				kind: 'range',
				words: `Let it reach ${metres(next)} far`,
				recipe: onQuery(query.id, (q) => ({ range: { ...q.range, max: next } })),
				size: rounded(next - max, 6),
				unit: 'm',
				of: 'max',
			});
	if (min !== undefined) {
		const next = Math.max(0, rounded(Math.floor((min - margin) / 0.01 + 1e-9) * 0.01, 6));
		out.push({
			kind: 'range',
			words: `Let it begin at ${metres(next)}`,
			recipe: onQuery(query.id, (q) => ({ range: { ...q.range, min: next } })),
			size: rounded(min - next, 6),
			unit: 'm',
			of: 'min',
		});
	}
	return out;
}

/** Of one out of view. */
export function views({ query, verdict }: Case): Candidate[] {
	const was = query.view?.within ?? 0;
	return steps(was + (verdict?.margin ?? 0), 0.1)
		.filter((within) => within <= 180)
		.map((within) => ({
			kind: 'view',
			words: `Let it see ${degrees(within)} to every side`,
			recipe: onQuery(query.id, (q) => ({ view: { ...q.view, within } })),
			size: rounded(within - was, 6),
			unit: '°',
			of: 'within',
		}));
}

/** Of one that is approached from the wrong side. */
export function approaches({ query, target, verdict, naming }: Case): Candidate[] {
	const was = target.def.approach;
	const out = was
		? steps(was.within + (verdict?.margin ?? 0), 0.1).map((within) => ({
				kind: 'approach',
				words: `Let ${naming('object', target.id)} be approached within ${degrees(within)}`,
				recipe: onObject(target.id, () => ({ approach: { ...was, within } })),
				size: rounded(within - was.within, 6),
				unit: '°',
				of: target.id,
			}))
		: [];
	return [
		...out,
		plain(
			'approach',
			'Let it be approached from any side',
			onQuery(query.id, () => ({ approach: 'ignore' })),
		),
	];
}
