/** Under the lanes: what moves by keys, the swings with their windows, and the presses; all of it pulled along in time. */
import { type Project, type Run, TIME_EPSILON } from '@frelk/core';
import { type TrackTarget, withKeyAt, withoutKey } from '@frelk/core/runs';
import { type KeyboardEvent, memo, type PointerEvent } from 'react';
import type { BenchStore } from '../../model/bench-state';
import { nameOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { beginDrag } from '../../ui/drag';

const ROW = 20;

interface Row {
	key: string;
	name: string;
	marks: { t: number; label: string; move: (run: Run, to: number) => Run; remove: (run: Run) => Run }[];
	/** Windows of a swing, seconds: from, until, and what an end that is pulled does. */
	windows: {
		from: number;
		until: number;
		label: string;
		pull: (draft: Project, end: 'from' | 'until', to: number) => void;
	}[];
}

const thingOf = (track: NonNullable<Run['tracks']>[number]): TrackTarget =>
	track.object !== undefined
		? { object: track.object }
		: track.camera !== undefined
			? { camera: track.camera }
			: track.query !== undefined
				? { query: track.query }
				: { scene: true };

function nameOfThing(project: Project, thing: TrackTarget): string {
	if ('object' in thing) return nameOf(project, 'object', thing.object);
	if ('camera' in thing) return nameOf(project, 'camera', thing.camera);
	if ('query' in thing) return nameOf(project, 'query', thing.query);
	return 'Scene';
}

/** What a key gives, in a few words. */
const given = (key: object): string =>
	Object.keys(key)
		.filter((k) => k !== 't')
		.join(', ');

const replaced = <T,>(list: readonly T[] | undefined, i: number, one: T | null): T[] =>
	(list ?? []).flatMap((e, k) => (k === i ? (one === null ? [] : [one]) : [e]));

function rowsOf(project: Project, run: Run): Row[] {
	const rows: Row[] = (run.tracks ?? []).map((track) => {
		const thing = thingOf(track);
		const name = nameOfThing(project, thing);
		return {
			key: JSON.stringify(thing),
			name,
			windows: [],
			marks: track.keys.map((key) => ({
				t: key.t,
				label: `Key of ${name}: ${given(key)}`,
				move: (r, to) => withKeyAt(r, thing, key.t, to),
				remove: (r) => withoutKey(r, thing, key.t),
			})),
		};
	});
	(run.swings ?? []).forEach((swing, i) => {
		const query = project.queries.find((q) => q.id === swing.query);
		const name = nameOf(project, 'query', swing.query);
		rows.push({
			key: `swing ${i}`,
			name: `${name}, swung`,
			marks: [
				{
					t: swing.at,
					label: `Swing of ${name}`,
					move: (r, at) => ({ ...r, swings: replaced(r.swings, i, { ...swing, at }) }),
					remove: (r) => ({ ...r, swings: replaced(r.swings, i, null) }),
				},
			],
			windows:
				query?.kind !== 'hitbox'
					? []
					: query.boxes.map((box, b) => ({
							from: swing.at + (box.from ?? 0),
							until: Math.min(swing.at + (box.until ?? run.duration), run.duration),
							label: `Window of box ${b + 1} of ${name}`,
							pull: (draft, end, to) => {
								const target = draft.queries.find((q) => q.id === swing.query);
								if (target?.kind !== 'hitbox') return;
								const window = target.boxes[b];
								if (!window) return;
								const at = Number(Math.max(0, to - swing.at).toFixed(4));
								if (end === 'from') window.from = Math.min(at, window.until ?? at);
								else window.until = Math.max(at, window.from ?? 0);
							},
						})),
		});
	});
	const watched = new Set((run.presses ?? []).map((p) => p.watch));
	for (const watch of watched)
		rows.push({
			key: `press ${watch}`,
			name: `${watch}, pressed`,
			windows: [],
			marks: (run.presses ?? []).flatMap((press, i) =>
				press.watch !== watch
					? []
					: [
							{
								t: press.at,
								label: `Press of ${watch}`,
								move: (r, at) => ({ ...r, presses: replaced(r.presses, i, { ...press, at }) }),
								remove: (r) => ({ ...r, presses: replaced(r.presses, i, null) }),
							},
						],
			),
		});
	return rows;
}

/** Whether a step of the run falls into a window: one that holds none is never seen. */
export const holdsStep = ({ from, until }: { from: number; until: number }, { step, duration }: Run): boolean => {
	const k = Math.ceil((from - TIME_EPSILON) / step);
	return k * step <= until + TIME_EPSILON && k * step <= duration + TIME_EPSILON;
};

/** Edits the run of a project. */
export function editRun(store: BenchStore, id: string, label: string, recipe: (run: Run) => Run): void {
	store.getState().edit(label, (draft) => {
		const i = (draft.runs ?? []).findIndex((r) => r.id === id);
		const run = draft.runs?.[i];
		// Plain data: what the recipe makes anew must not hold on to a draft.
		if (run && draft.runs) draft.runs[i] = recipe(JSON.parse(JSON.stringify(run)) as Run);
	});
}

export const KeyRows = memo(function KeyRows({
	run,
	left,
	room,
	end,
}: {
	run: Run;
	/** Where time begins, and how wide it is: pixels. */
	left: number;
	room: number;
	end: number;
}) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const rows = rowsOf(project, run);
	if (rows.length === 0) return null;
	const x = (t: number) => left + (end === 0 ? 0 : Math.min(1, t / end) * room);
	const snapped = (t: number, fine: boolean) =>
		Number(Math.max(0, fine ? t : Math.round(t / run.step) * run.step).toFixed(6));
	const pulled = (event: PointerEvent, label: string, from: number, put: (to: number) => void) => {
		if (event.button !== 0) return;
		event.preventDefault();
		event.stopPropagation();
		(event.currentTarget as HTMLElement).focus?.();
		store.getState().beginGesture(label);
		const begun = event.clientX;
		beginDrag(event, {
			move: (move) => put(snapped(from + ((move.clientX - begun) / room) * end, move.altKey)),
			end: () => store.getState().endGesture(),
			cancel: () => store.getState().cancelGesture(),
		});
	};
	const stepped = (event: KeyboardEvent, t: number, put: (to: number) => void) => {
		const way = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
		if (way === undefined) return;
		event.preventDefault();
		event.stopPropagation();
		put(snapped(t + way * run.step * (event.shiftKey ? 10 : 1), false));
	};
	return (
		// biome-ignore lint/a11y/useSemanticElements: a fieldset cannot hold a drawing
		<svg
			width={left + room + 16}
			height={rows.length * ROW + 4}
			className="block touch-none"
			role="group"
			aria-label="Keys"
		>
			{rows.map((row, i) => {
				const y = i * ROW + 2;
				return (
					<g key={row.key}>
						<text x="8" y={y + 13} fontSize="11.5" fill="var(--quiet)">
							{row.name.length > 22 ? `${row.name.slice(0, 21)}…` : row.name}
						</text>
						<line x1={left} x2={left + room} y1={y + 9} y2={y + 9} stroke="var(--line)" strokeDasharray="1 3" />
						{row.windows.map((w) => (
							<g key={w.label}>
								<rect
									x={x(w.from)}
									y={y + 4}
									width={Math.max(2, x(w.until) - x(w.from))}
									height="10"
									fill={holdsStep(w, run) ? 'var(--wash)' : 'none'}
									stroke={holdsStep(w, run) ? 'var(--ink)' : 'var(--cut)'}
									strokeDasharray={holdsStep(w, run) ? undefined : '2 2'}
								>
									<title>{holdsStep(w, run) ? w.label : `${w.label}: no step falls into it`}</title>
								</rect>
								{!holdsStep(w, run) && (
									<text x={x(w.until) + 8} y={y + 13} fontSize="11" fill="var(--cut)">
										no step falls into it
									</text>
								)}
								{(['from', 'until'] as const).map((which) => (
									<g
										key={which}
										role="slider"
										tabIndex={0}
										aria-label={`${w.label}, ${which}`}
										aria-valuemin={0}
										aria-valuemax={end}
										aria-valuenow={w[which]}
										aria-valuetext={`${Number(w[which].toFixed(4))} s`}
										className="cursor-ew-resize"
										onPointerDown={(event) =>
											pulled(event, w.label, w[which], (to) =>
												store.getState().edit(w.label, (draft) => w.pull(draft, which, to)),
											)
										}
										onKeyDown={(event) =>
											stepped(event, w[which], (to) =>
												store.getState().edit(w.label, (draft) => w.pull(draft, which, to)),
											)
										}
									>
										<rect x={x(w[which]) - 5} y={y + 1} width="10" height="16" fill="transparent" />
									</g>
								))}
							</g>
						))}
						{row.marks.map((mark) => (
							<g
								// A key keeps the hand while it is pulled: it is known by its place among the others.
								key={row.marks.indexOf(mark)}
								role="slider"
								tabIndex={0}
								aria-label={mark.label}
								aria-valuemin={0}
								aria-valuemax={end}
								aria-valuenow={mark.t}
								aria-valuetext={`${Number(mark.t.toFixed(4))} s`}
								className="cursor-ew-resize"
								transform={`translate(${x(mark.t).toFixed(1)} ${y + 9})`}
								onPointerDown={(event) => {
									// What was grabbed stays the measure: the run it is moved in changes under the hand.
									const begun = run;
									pulled(event, mark.label, mark.t, (to) =>
										editRun(store, run.id, mark.label, () => mark.move(begun, to)),
									);
								}}
								onKeyDown={(event) => {
									if (event.key === 'Delete' || event.key === 'Backspace') {
										event.preventDefault();
										event.stopPropagation();
										editRun(store, run.id, `Take out: ${mark.label}`, mark.remove);
										return;
									}
									stepped(event, mark.t, (to) => editRun(store, run.id, mark.label, (r) => mark.move(r, to)));
								}}
							>
								<rect x="-8" y="-9" width="16" height="18" fill="transparent" />
								<path d="M-2 -6h4v12h-4z" fill="var(--panel)" stroke="var(--ink)" strokeWidth="1.4" />
								<title>{`${mark.label}, at ${Number(mark.t.toFixed(4))} s`}</title>
							</g>
						))}
					</g>
				);
			})}
		</svg>
	);
});
