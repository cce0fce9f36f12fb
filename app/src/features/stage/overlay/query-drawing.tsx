/** The query in hand, drawn on the stage: its path, volumes, range, view, and what it met. */
import {
	type Answer,
	type ArcPath,
	isOpenAt,
	metres,
	type Placement,
	type Query,
	type RobustnessMargin,
	type View,
	type World,
} from '@frelk/core';
import { circleAround, worldLines } from '../../../drawing/outline';
import { type P2, type P3, pathOf, toPixels } from '../../../drawing/view';
import type { QueryGeometry } from './geometry';
import { type Reason, wordsBox } from './reason';
import { SpotDrawing } from './spot-drawing';

const at = (placement: Placement, d: number): P3 => {
	const path = placement.path;
	if (!path) return [0, 0, 0];
	return [path.start[0] + d * path.dir[0], path.start[1] + d * path.dir[1], path.start[2] + d * path.dir[2]];
};

/** Whether a volume is the box of a swing that is open at the instant looked at. */
function isOpenNow(query: Query, index: number | null, t: number | null): boolean {
	const box = query.kind === 'hitbox' && index !== null ? query.boxes[index] : undefined;
	return box !== undefined && t !== null && isOpenAt(box, t);
}

export function QueryDrawing({
	geometry,
	view,
	answer,
	world,
	reason,
	firm,
	swing,
}: {
	geometry: QueryGeometry;
	/** Instant of a swing that is looked at, seconds. */
	swing: number | null;
	view: View;
	answer: Answer | null;
	world: World;
	reason: Reason | null;
	/** How firmly a check of the query holds, where that is shown. */
	firm: readonly RobustnessMargin[] | null;
}) {
	const { flat } = world;
	const { query, placement } = geometry;
	const tone =
		answer?.status === 'tie' ? 'var(--tie)' : answer?.status === 'selected' ? 'var(--chosen)' : 'var(--quiet)';
	return (
		<g fill="none" strokeLinecap="round">
			{placement.path && <PathDrawing geometry={geometry} view={view} tone={tone} flat={flat} />}
			{placement.arc && <ArcDrawing arc={placement.arc} answer={answer} view={view} tone={tone} flat={flat} />}
			{placement.volumes.map((volume) => (
				<g
					key={volume.box}
					stroke="var(--ink)"
					strokeWidth={isOpenNow(query, volume.box, swing) ? 2 : 1.4}
					strokeDasharray={swing !== null && isOpenNow(query, volume.box, swing) ? undefined : '5 3'}
					opacity={swing === null || isOpenNow(query, volume.box, swing) ? 1 : 0.3}
				>
					{worldLines(volume.body, flat).map((line, i) => (
						// biome-ignore lint/suspicious/noArrayIndexKey: a body's lines have no other name
						<path key={i} d={pathOf(view, line)} />
					))}
				</g>
			))}
			{query.range?.max !== undefined && !placement.flatPick && (
				<RangeRing
					centre={placement.rangeFrom ?? placement.measuring}
					radius={query.range.max}
					view={view}
					flat={flat}
					label="up to"
				/>
			)}
			{query.range?.min !== undefined && query.range.min > 0 && !placement.flatPick && (
				<RangeRing
					centre={placement.rangeFrom ?? placement.measuring}
					radius={query.range.min}
					view={view}
					flat={flat}
					label="from"
				/>
			)}
			{(query.kind === 'ray' || query.kind === 'pick') &&
				query.assist &&
				query.assist.by !== 'pixels' &&
				placement.path &&
				!placement.flatPick && <AssistCone placement={placement} assist={query.assist} view={view} flat={flat} />}
			{query.view && placement.viewAxis && (
				<ViewFan placement={placement} within={query.view.within} view={view} flat={flat} />
			)}
			{geometry.spot && <SpotDrawing spot={geometry.spot} placement={placement} view={view} />}
			{firm && <FirmDrawing firm={firm} placement={placement} view={view} world={world} query={query} />}
			{reason && <ReasonDrawing reason={reason} view={view} />}
			{answer && answer.tied.length > 1 && <TieArc answer={answer} view={view} world={world} />}
		</g>
	);
}

/** How far the asker may step or the aim may turn before the answer is another one, and which way that is. */
function FirmDrawing({
	firm,
	placement,
	view,
	world,
	query,
}: {
	firm: readonly RobustnessMargin[];
	placement: Placement;
	view: View;
	world: World;
	query: Query;
}) {
	const { flat } = world;
	const asker = query.asker === undefined ? undefined : world.objectById.get(query.asker);
	return (
		<g stroke="var(--tie)" strokeWidth="1.5" strokeDasharray="3 2">
			{firm.map((f) => {
				if (f.least === null) return null;
				const [u, v] = [(f.way[0] ?? 0) * f.least, (f.way[1] ?? 0) * f.least];
				if (f.perturbation === 'asker' && asker) {
					const [x, y, z] = asker.position;
					const at: P3 = flat ? [x + u, y + v, z] : [x + u, y + 0.02, z + v];
					const p = toPixels(view, at);
					return (
						<g key={f.perturbation}>
							<path d={pathOf(view, circleAround(flat ? [x, y, z] : [x, y + 0.02, z], f.least, flat))} />
							<path
								d={pathOf(view, [flat ? [x, y, z] : [x, y + 0.02, z], at])}
								strokeWidth="3"
								strokeDasharray="none"
							/>
							{p && (
								<text x={p[0] + 6} y={p[1] + 4} fill="var(--tie)" stroke="none" className="figure" fontSize="11">
									{metres(f.least)}
								</text>
							)}
						</g>
					);
				}
				if (f.perturbation === 'aim' && placement.path) {
					const d = Math.min(placement.path.length, flat ? 0.5 : 3);
					const cone = { by: 'angle', within: f.least };
					return (
						<AssistCone
							key={f.perturbation}
							placement={{ ...placement, path: { ...placement.path, length: d } }}
							assist={cone}
							view={view}
							flat={flat}
						/>
					);
				}
				return null;
			})}
		</g>
	);
}

/** What is missing, with its figure on it. */
function ReasonDrawing({ reason, view }: { reason: Reason; view: View }) {
	const [a, b] = reason.missing;
	const [p, q] = [a ? toPixels(view, a) : null, b ? toPixels(view, b) : null];
	const box = wordsBox(reason, view);
	return (
		<g>
			{reason.way.length > 0 && (
				<path d={pathOf(view, reason.way)} stroke="var(--quiet)" strokeWidth="1" strokeDasharray="2 3" />
			)}
			<path d={pathOf(view, reason.missing)} stroke={`var(--${reason.tone})`} strokeWidth="3" />
			{[p, q].map(
				(end, i) =>
					end && (
						<circle
							key={i === 0 ? 'from' : 'to'}
							cx={end[0]}
							cy={end[1]}
							r="3"
							fill={`var(--${reason.tone})`}
							stroke="var(--panel)"
						/>
					),
			)}
			{box && (
				<text
					x={box.x}
					y={box.y + 12}
					fill="var(--ink)"
					stroke="var(--ground)"
					strokeWidth="3"
					paintOrder="stroke"
					fontSize="12"
					fontWeight="600"
				>
					{reason.words}
				</text>
			)}
		</g>
	);
}

/** Ticks of a flight are this far apart, seconds. */
const TICK = 0.1;

/** What is thrown as it flies: up to its contact, and beyond; a tick every tenth of a second, with the time of the contact. */
function ArcDrawing({
	arc,
	answer,
	view,
	tone,
	flat,
}: {
	arc: ArcPath;
	answer: Answer | null;
	view: View;
	tone: string;
	flat: boolean;
}) {
	const { pieces, step, swept } = arc;
	const taken = answer?.selected[0];
	const until = taken?.time ?? Infinity;
	const at = (t: number): P3 => {
		const k = Math.floor(t / step + 1e-9);
		const piece = pieces.findLast((p) => p.k <= k) ?? pieces[0];
		if (!piece) return [0, 0, 0];
		const d = Math.min(1, Math.max(0, t / step - piece.k)) * piece.length;
		return [piece.start[0] + d * piece.dir[0], piece.start[1] + d * piece.dir[1], piece.start[2] + d * piece.dir[2]];
	};
	const last = ((pieces.at(-1)?.k ?? 0) + 1) * step;
	const stop = Math.min(until, last);
	const points = (from: number, to: number): P3[] => [
		at(from),
		...pieces.filter((p) => p.k * step > from + 1e-9 && p.k * step < to - 1e-9).map((p): P3 => [...p.start]),
		at(to),
	];
	let ticks = '';
	for (let n = 1; n * TICK < Math.min(last, 30); n++) {
		const [p, q] = [toPixels(view, at(n * TICK)), toPixels(view, at(n * TICK - 0.01))];
		if (!p || !q) continue;
		const length = Math.hypot(p[0] - q[0], p[1] - q[1]);
		if (length < 0.12) continue;
		const [nx, ny] = [-(p[1] - q[1]) / length, (p[0] - q[0]) / length];
		const arm = n % 10 === 0 ? 6 : 3.5;
		ticks += `M${(p[0] - arm * nx).toFixed(1)} ${(p[1] - arm * ny).toFixed(1)}L${(p[0] + arm * nx).toFixed(1)} ${(p[1] + arm * ny).toFixed(1)}`;
	}
	const end = toPixels(view, at(stop));
	return (
		<>
			{stop < last && (
				<path d={pathOf(view, points(stop, last))} stroke="var(--quiet)" strokeWidth="1.4" strokeDasharray="1 5" />
			)}
			<path d={pathOf(view, points(0, stop))} stroke={tone} strokeWidth="2" />
			<path d={ticks} stroke="var(--ink)" strokeWidth="1" />
			{swept &&
				[at(0), at(stop)].map((place, k) =>
					worldLines(swept, flat).map((line, i) => (
						<path
							// biome-ignore lint/suspicious/noArrayIndexKey: a body's lines have no other name
							key={`${k}-${i}`}
							d={pathOf(
								view,
								line.map(([x, y, z]): P3 => [x - swept.x + place[0], y - swept.y + place[1], z - swept.z + place[2]]),
							)}
							stroke="var(--ink)"
							strokeWidth="1"
						/>
					)),
				)}
			{taken?.time !== undefined && end && (
				<text
					x={end[0] + 8}
					y={end[1] + 18}
					fill="var(--ink)"
					stroke="var(--ground)"
					strokeWidth="3"
					paintOrder="stroke"
					className="figure"
					fontSize="11"
				>
					{taken.time.toFixed(2)} s
				</text>
			)}
		</>
	);
}

function PathDrawing({
	geometry,
	view,
	tone,
	flat,
}: {
	geometry: QueryGeometry;
	view: View;
	tone: string;
	flat: boolean;
}) {
	const { placement, stop, cutBy } = geometry;
	const path = placement.path;
	if (!path) return null;
	const end = Math.min(path.length, 400);
	const solid = stop ?? end;
	// One path for those up to where it stops and one for the rest: there may be sixty, and all move with the hand.
	let ticks = '';
	let beyond = '';
	for (let d = 1; d < Math.min(end, 60); d++) {
		const p = toPixels(view, at(placement, d));
		const q = toPixels(view, at(placement, d - 0.02));
		if (!p || !q) continue;
		const length = Math.hypot(p[0] - q[0], p[1] - q[1]);
		// Ticks closer together than they are long only smear the line.
		if (length < 0.12) continue;
		const [nx, ny] = [-(p[1] - q[1]) / length, (p[0] - q[0]) / length];
		const arm = d % 5 === 0 ? 6 : 3.5;
		const tick = `M${(p[0] - arm * nx).toFixed(1)} ${(p[1] - arm * ny).toFixed(1)}L${(p[0] + arm * nx).toFixed(1)} ${(p[1] + arm * ny).toFixed(1)}`;
		if (d > solid) beyond += tick;
		else ticks += tick;
	}
	const cut = stop === null ? null : toPixels(view, at(placement, stop));
	const before = stop === null ? null : toPixels(view, at(placement, Math.max(0, stop - 0.05)));
	const start = toPixels(view, path.start);
	const body = path.swept;
	return (
		<>
			<path
				d={pathOf(view, [at(placement, solid), at(placement, end)])}
				stroke="var(--quiet)"
				strokeWidth="1.4"
				strokeDasharray="1 5"
			/>
			<path d={pathOf(view, [path.start, at(placement, solid)])} stroke={cutBy ? 'var(--cut)' : tone} strokeWidth="2" />
			<path d={beyond} stroke="var(--quiet)" strokeWidth="1" />
			<path d={ticks} stroke="var(--ink)" strokeWidth="1" />
			{body &&
				[0, solid].map((d) =>
					worldLines(body, flat).map((line, i) => (
						<path
							// biome-ignore lint/suspicious/noArrayIndexKey: a body's lines have no other name
							key={`${d}-${i}`}
							d={pathOf(
								view,
								line.map(([x, y, z]): P3 => [x + d * path.dir[0], y + d * path.dir[1], z + d * path.dir[2]]),
							)}
							stroke="var(--ink)"
							strokeWidth="1"
							strokeDasharray={d === 0 ? '3 3' : undefined}
						/>
					)),
				)}
			{start && (
				<circle cx={start[0]} cy={start[1]} r="3.5" fill="var(--panel)" stroke="var(--ink)" strokeWidth="1.5" />
			)}
			{cutBy && cut && before && <CutBar at={cut} from={before} />}
		</>
	);
}

/** A bar across the path where a blocker cuts it. */
function CutBar({ at: p, from }: { at: P2; from: P2 }) {
	const length = Math.hypot(p[0] - from[0], p[1] - from[1]) || 1;
	const [nx, ny] = [-(p[1] - from[1]) / length, (p[0] - from[0]) / length];
	return (
		<path
			d={`M${p[0] - 10 * nx} ${p[1] - 10 * ny}L${p[0] + 10 * nx} ${p[1] + 10 * ny}`}
			stroke="var(--cut)"
			strokeWidth="4"
		/>
	);
}

function RangeRing({
	centre,
	radius,
	view,
	flat,
	label,
}: {
	centre: P3;
	radius: number;
	view: View;
	flat: boolean;
	label: string;
}) {
	if (radius > 200) return null;
	const ground: P3 = flat ? centre : [centre[0], 0.01, centre[2]];
	const text = toPixels(view, [
		ground[0] + radius * Math.SQRT1_2,
		ground[1] + (flat ? radius * Math.SQRT1_2 : 0),
		ground[2] + (flat ? 0 : radius * Math.SQRT1_2),
	]);
	return (
		<g>
			<path
				d={pathOf(view, circleAround(ground, radius, flat))}
				stroke="var(--short)"
				strokeWidth="1.4"
				strokeDasharray="8 4"
			/>
			{text && (
				<text x={text[0] + 6} y={text[1]} fill="var(--short)" stroke="none" className="figure" fontSize="11">
					{label} {metres(radius)}
				</text>
			)}
		</g>
	);
}

function ViewFan({
	placement,
	within,
	view,
	flat,
}: {
	placement: Placement;
	within: number;
	view: View;
	flat: boolean;
}) {
	const about = placement.viewAxis as P3;
	const reach = 2;
	const heading = flat ? Math.atan2(about[1], about[0]) : Math.atan2(about[2], about[0]);
	const half = (Math.min(within, 180) * Math.PI) / 180;
	const base: P3 = flat ? placement.apex : [placement.apex[0], 0.01, placement.apex[2]];
	const arc = Array.from({ length: 25 }, (_, i): P3 => {
		const a = heading - half + (2 * half * i) / 24;
		return flat
			? [base[0] + reach * Math.cos(a), base[1] + reach * Math.sin(a), base[2]]
			: [base[0] + reach * Math.cos(a), base[1], base[2] + reach * Math.sin(a)];
	});
	return (
		<path
			d={pathOf(view, within >= 180 ? arc : [base, ...arc, base])}
			stroke="var(--short)"
			strokeWidth="1.1"
			strokeDasharray="2 3"
		/>
	);
}

/** How far aim assist reaches beside the ray: a tube for metres, a cone for degrees. */
function AssistCone({
	placement,
	assist,
	view,
	flat,
}: {
	placement: Placement;
	assist: { by: string; within: number };
	view: View;
	flat: boolean;
}) {
	const path = placement.path;
	if (!path) return null;
	const d = Math.min(path.length, flat ? 0.5 : 3);
	const r = assist.by === 'distance' ? assist.within : d * Math.tan((Math.min(assist.within, 80) * Math.PI) / 180);
	const [ux, uy, uz] = sideOf(path.dir, flat);
	const [vx, vy, vz] = flat
		? [0, 0, 0]
		: [path.dir[1] * uz - path.dir[2] * uy, path.dir[2] * ux - path.dir[0] * uz, path.dir[0] * uy - path.dir[1] * ux];
	const ringAt = (centre: P3, radius: number): P3[] =>
		Array.from({ length: flat ? 2 : 33 }, (_, i): P3 => {
			const a = flat ? Math.PI * i : (Math.PI * i) / 16;
			const [c, s] = [radius * Math.cos(a), radius * Math.sin(a)];
			return [centre[0] + c * ux + s * vx, centre[1] + c * uy + s * vy, centre[2] + c * uz + s * vz];
		});
	const far = ringAt(at(placement, d), r);
	const near = ringAt(path.start, assist.by === 'distance' ? r : 0);
	const sides = flat ? [0, 1] : [0, 8, 16, 24];
	return (
		<g stroke="var(--chosen)" strokeWidth="1" strokeDasharray="2 3">
			<path d={pathOf(view, far)} />
			{assist.by === 'distance' && <path d={pathOf(view, near)} />}
			{sides.map((i) => (
				<path key={i} d={pathOf(view, [near[i] as P3, far[i] as P3])} />
			))}
		</g>
	);
}

function sideOf(dir: P3, flat: boolean): P3 {
	if (flat) return [-dir[1], dir[0], 0];
	const length = Math.hypot(dir[0], dir[2]);
	return length < 1e-6 ? [1, 0, 0] : [-dir[2] / length, 0, dir[0] / length];
}

/** Ties are joined by an arc. */
function TieArc({ answer, view, world }: { answer: Answer; view: View; world: World }) {
	const [a, b] = answer.tied.map((id) => {
		const object = world.objectById.get(id);
		return object ? toPixels(view, object.focus) : null;
	});
	if (!a || !b) return null;
	const [mx, my] = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
	const lift = 0.25 * Math.hypot(a[0] - b[0], a[1] - b[1]) + 14;
	return (
		<g>
			<path d={`M${a[0]} ${a[1]}Q${mx} ${my - 2 * lift} ${b[0]} ${b[1]}`} stroke="var(--tie)" strokeWidth="2" />
			<text x={mx} y={my - lift - 6} textAnchor="middle" fill="var(--tie)" stroke="none" fontSize="12" fontWeight="600">
				tie
			</text>
		</g>
	);
}
