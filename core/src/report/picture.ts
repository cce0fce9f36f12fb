/** A failing check as a drawing on paper: the query with where it is cut, what was wanted, what was got, what is in the way. */
import type { CheckResult } from '../checks/check';
import { Answerer } from '../query/answer';
import { crossingsOf } from '../query/crossings';
import { filtersOf } from '../query/filters';
import { isNote, type Placement, placementOf } from '../query/placement';
import type { World, WorldObject } from '../world/world';

/** Pixels of the drawing. */
const W = 460;
const H = 300;
const EDGE = 26;
const FONT = 11;
/** What is larger is a floor or a wall, and only drawn as far as the rest takes one, metres. */
const LARGE = { space: 8, flat: 4 };

type Part = 'got' | 'wanted' | 'blocker' | 'asker' | 'other';

/** Told apart without colour: filled, hatched, thick and broken lines. */
const LOOKS: Record<Part, string> = {
	got: 'fill="#14242b" fill-opacity=".75" stroke="#14242b"',
	wanted: 'fill="#fff" fill-opacity=".6" stroke="#14242b" stroke-width="2.2" stroke-dasharray="6 3"',
	blocker: 'fill="url(#cut)" stroke="#14242b" stroke-width="1.6"',
	asker: 'fill="none" stroke="#14242b" stroke-width="1.4"',
	other: 'fill="none" stroke="#8a979c" stroke-width=".7"',
};

const n = (value: number): string => String(Number(value.toFixed(1)));

/** What a cut body is hatched with. */
const CUT = [
	'<pattern id="cut" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">',
	'<rect width="6" height="6" fill="#fff"/><path d="M0 0V6" stroke="#14242b" stroke-width="2"/></pattern>',
].join('');

interface Case {
	world: World;
	check: CheckResult;
	placement: Placement | null;
	parts: ReadonlyMap<string, Part>;
	/** Where the path is cut, metres along it; null where it is not. */
	cut: number | null;
}

function caseOf(world: World, check: CheckResult): Case {
	const query = world.queryById.get(check.query);
	const { wanted, got } = check;
	const parts = new Map<string, Part>();
	if (query?.asker !== undefined) parts.set(query.asker, 'asker');
	const chosen = new Set([...got.selected.map((s) => s.object), ...got.tied]);
	for (const id of [...(wanted.selects ?? []), ...(wanted.tie ?? [])]) parts.set(id, 'wanted');
	for (const verdict of got.verdicts)
		if (verdict.by !== undefined && parts.get(verdict.object) === 'wanted' && verdict.stage === 'sight')
			parts.set(verdict.by, 'blocker');
	for (const id of chosen) parts.set(id, 'got');
	if (!query) return { world, check, placement: null, parts, cut: null };
	const asker = query.asker === undefined ? null : (world.objectById.get(query.asker) ?? null);
	const placement = placementOf({ world, query, asker, hitOf: new Answerer(world).hitOf });
	if (isNote(placement)) return { world, check, placement: null, parts, cut: null };
	const stop = placement.path
		? crossingsOf(filtersOf(world, query), placement).find(
				(c) => c.blocker && !c.startsInside && !chosen.has(c.shape.object.answersFor.id),
			)
		: undefined;
	const first = got.selected[0];
	const cut = stop && !(first && first.distance < stop.enter) ? stop.enter : null;
	if (stop && cut !== null && !parts.has(stop.shape.object.id)) parts.set(stop.shape.object.id, 'blocker');
	return { world, check, placement, parts, cut };
}

interface Room {
	low: [number, number];
	high: [number, number];
}

/** @param u, v the axes that are drawn, to the right and up; the height of the page stands for both */
function fitted({ world, placement, parts, cut, check }: Case, u: number, v: number): Room {
	const b = world.bounds();
	const most = LARGE[world.flat ? 'flat' : 'space'];
	const low: Room['low'] = [Infinity, Infinity];
	const high: Room['high'] = [-Infinity, -Infinity];
	const take = (x: number, y: number) => {
		low[0] = Math.min(low[0], x);
		low[1] = Math.min(low[1], y);
		high[0] = Math.max(high[0], x);
		high[1] = Math.max(high[1], y);
	};
	for (const shape of world.shapes) {
		const i = 6 * shape.index;
		if (!parts.has(shape.object.id) || Math.max(b[i + 3] - b[i], b[i + 5] - b[i + 2]) > most) continue;
		take(b[i + u], b[i + v]);
		take(b[i + 3 + u], b[i + 3 + v]);
	}
	for (const { point } of check.got.selected) take(point[u], point[v]);
	const path = placement?.path;
	if (path && !placement.flatPick) {
		const end = Math.min(cut === null ? path.length : cut + 0.5, 12);
		take(path.start[u], path.start[v]);
		take(path.start[u] + end * path.dir[u], path.start[v] + end * path.dir[v]);
	}
	if (low[0] === Infinity) {
		take(0, 0);
		take(world.flat ? 1 : 4, world.flat ? 1 : 4);
	}
	const least = world.flat ? 0.2 : 2;
	for (const k of [0, 1] as const) {
		const lack = least - (high[k] - low[k]);
		if (lack > 0) {
			low[k] -= lack / 2;
			high[k] += lack / 2;
		}
	}
	return { low, high };
}

interface Label {
	x: number;
	y: number;
	text: string;
}

/** Names beside their things, moved to where nothing is written yet; what has no place is left out. */
function placed(wanted: readonly Label[]): string {
	const taken: { x: number; y: number; w: number }[] = [];
	const free = (x: number, y: number, w: number) =>
		x >= 2 &&
		x + w <= W - 2 &&
		y >= FONT + 2 &&
		y <= H - 4 &&
		taken.every((t) => x > t.x + t.w || x + w < t.x || Math.abs(y - t.y) > FONT + 2);
	const out: string[] = [];
	for (const { x, y, text } of wanted) {
		const w = text.length * 6.1 + 4;
		const places = [0, 1, -1, 2, -2, 3, -3, 4].flatMap((k) => [
			[x + 8, y + 4 + k * (FONT + 3)],
			[x - 8 - w, y + 4 + k * (FONT + 3)],
		]) as [number, number][];
		const at = places.find(([px, py]) => free(px, py, w));
		if (!at) continue;
		taken.push({ x: at[0], y: at[1], w });
		out.push(
			`<text x="${n(at[0])}" y="${n(at[1])}" font-size="${FONT}" stroke="#fff" stroke-width="3" paint-order="stroke" fill="#14242b">${text}</text>`,
		);
	}
	return out.join('');
}

/**
 * One view of a case.
 * @param name of an object, escaped
 */
function view(of: Case, u: number, v: number, up: 1 | -1, title: string, name: (id: string) => string): string {
	const { world, placement, parts, cut } = of;
	const { low, high } = fitted(of, u, v);
	const scale = Math.min((W - 2 * EDGE) / (high[0] - low[0]), (H - 2 * EDGE) / (high[1] - low[1]));
	const [mx, my] = [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2];
	const X = (x: number) => W / 2 + (x - mx) * scale;
	const Y = (y: number) => H / 2 - up * (y - my) * scale;
	const b = world.bounds();
	const drawn: { part: Part; d: string }[] = [];
	for (const shape of world.shapes) {
		const i = 6 * shape.index;
		const part = parts.get(shape.object.id) ?? 'other';
		const [x0, x1] = [X(b[i + u]), X(b[i + 3 + u])];
		const ys = [Y(b[i + v]), Y(b[i + 3 + v])];
		const [y0, y1] = [Math.min(...ys), Math.max(...ys)];
		if (x1 < 0 || x0 > W || y1 < 0 || y0 > H) continue;
		const round =
			['sphere', 'circle'].includes(shape.def.kind) || (v === 2 && ['cylinder', 'capsule'].includes(shape.def.kind));
		const [w, h] = [Math.max(1.5, x1 - x0), Math.max(1.5, y1 - y0)];
		drawn.push({
			part,
			d: round
				? `<ellipse cx="${n(x0 + w / 2)}" cy="${n(y0 + h / 2)}" rx="${n(w / 2)}" ry="${n(h / 2)}" ${LOOKS[part]}/>`
				: `<rect x="${n(x0)}" y="${n(y0)}" width="${n(w)}" height="${n(h)}" ${LOOKS[part]}/>`,
		});
	}
	const order: Part[] = ['other', 'asker', 'blocker', 'wanted', 'got'];
	drawn.sort((p, q) => order.indexOf(p.part) - order.indexOf(q.part));
	const marks: string[] = [];
	const path = placement?.path;
	if (path && !placement.flatPick) {
		const at = (d: number): [number, number] => [
			X(path.start[u] + d * path.dir[u]),
			Y(path.start[v] + d * path.dir[v]),
		];
		const end = Math.min(path.length, 400);
		const stop = cut ?? of.check.got.selected[0]?.distance ?? end;
		const [a, s, e] = [at(0), at(Math.min(stop, end)), at(end)];
		marks.push(
			`<path d="M${n(a[0])} ${n(a[1])}L${n(s[0])} ${n(s[1])}" stroke="#14242b" stroke-width="1.8" fill="none"/>`,
			`<path d="M${n(s[0])} ${n(s[1])}L${n(e[0])} ${n(e[1])}" stroke="#14242b" stroke-width="1" stroke-dasharray="1 4" fill="none"/>`,
			`<circle cx="${n(a[0])}" cy="${n(a[1])}" r="3" fill="#fff" stroke="#14242b"/>`,
		);
		if (cut !== null) {
			const l = Math.hypot(s[0] - a[0], s[1] - a[1]) || 1;
			const [nx, ny] = [(-(s[1] - a[1]) / l) * 8, ((s[0] - a[0]) / l) * 8];
			marks.push(
				`<path d="M${n(s[0] - nx)} ${n(s[1] - ny)}L${n(s[0] + nx)} ${n(s[1] + ny)}" stroke="#14242b" stroke-width="3.5"/>`,
			);
		}
	}
	for (const { body } of placement?.volumes ?? []) {
		const { boundingRadius: r } = body;
		const at = [body.x, body.y, body.z];
		marks.push(
			`<circle cx="${n(X(at[u]))}" cy="${n(Y(at[v]))}" r="${n(r * scale)}" fill="none" stroke="#14242b" stroke-dasharray="5 3"/>`,
		);
	}
	const range = world.queryById.get(of.check.query)?.range?.max;
	if (range !== undefined && placement && !placement.flatPick) {
		const c = placement.rangeFrom ?? placement.measuring;
		marks.push(
			`<circle cx="${n(X(c[u]))}" cy="${n(Y(c[v]))}" r="${n(range * scale)}" fill="none" stroke="#14242b" stroke-width=".8" stroke-dasharray="8 4"/>`,
		);
	}
	const said: Record<Part, string> = { got: 'got', wanted: 'wanted', blocker: 'in the way', asker: 'asks', other: '' };
	const labels = [...parts]
		.sort((p, q) => order.indexOf(q[1]) - order.indexOf(p[1]))
		.flatMap(([id, part]): Label[] => {
			const object = world.objectById.get(id) as WorldObject | undefined;
			return object ? [{ x: X(object.focus[u]), y: Y(object.focus[v]), text: `${name(id)}: ${said[part]}` }] : [];
		});
	const body = [...drawn.map((d) => d.d), ...marks, placed(labels)].join('');
	const svg = `<svg viewBox="0 0 ${W} ${H}" role="img" aria-label="${title}"><defs>${CUT}</defs>${body}</svg>`;
	return `<figure>${svg}<figcaption>${title}</figcaption></figure>`;
}

/** A plan and, in space, a section seen from the side that shows more of it. @param name of an object, escaped */
export function picturesOf(world: World, check: CheckResult, name: (id: string) => string): string {
	const of = caseOf(world, check);
	if (world.flat) return view(of, 0, 1, 1, 'Face on', name);
	const dir = of.placement?.path?.dir;
	const alongZ = dir !== undefined && Math.abs(dir[2]) > Math.abs(dir[0]);
	return (
		view(of, 0, 2, -1, 'Plan: X to the right, Z down', name) +
		view(of, alongZ ? 2 : 0, 1, 1, `Section: ${alongZ ? 'Z' : 'X'} to the right, Y up`, name)
	);
}
