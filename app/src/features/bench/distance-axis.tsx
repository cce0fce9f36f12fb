/** The distance axis: one axis from the query's start; what it meets where, what stops it, and how near things come to a tie. */
import { metres, type Query, rounded, slackOf, type Verdict, wordsOfFigure } from '@frelk/core';
import { useMemo, useRef, useState } from 'react';
import { takeFree } from '../../drawing/boxes';
import type { Rect } from '../../drawing/view';
import { verdictOn } from '../../model/derived';
import { nameOf } from '../../model/names';
import { editQuery } from '../../model/store';
import { queryIn, useBenchStore, useDeferredBench, useDeferredDerived } from '../../model/use-bench';
import { beginDrag } from '../../ui/drag';
import { toneOf } from '../../ui/marks';
import { Part } from '../../ui/part';
import { useSize } from '../../ui/use-size';
import { isThere, isWorthDrawing } from '../ladder/there';
import { ruleWords } from '../sentence/words';
import { figuresOf, useQueryGeometry } from '../stage/overlay/geometry';

const loadSwing = () => import('./swing-axis');

const HEIGHT = 92;
/** Where the axis runs. */
const BASE = HEIGHT - 26;
const MOST = 24;
const LEFT = 20;
const RIGHT = 28;

/** Verdicts of what the query never asked the path about. */
const BEFORE_TOUCH: ReadonlySet<string> = new Set(['layer', 'tags', 'side', 'state', 'role']);

const cutName = (name: string): string => (name.length > 36 ? `${name.slice(0, 35)}…` : name);

interface Bar {
	object: string;
	from: number;
	to: number;
	blocks: boolean;
	verdict: Verdict | undefined;
	/** Where the deciding rule measures it, metres; null where that is where it begins, or not a distance. */
	figure: number | null;
	/** Its name, and what the deciding rule says of it. */
	said: string;
	/** Which of several it is, from 1; null where one is taken. */
	rank: number | null;
}

export function DistanceAxis() {
	const { world, current, touched } = useDeferredDerived();
	const query = useDeferredBench(queryIn);
	const geometry = useQueryGeometry(world, query, current);
	const project = useDeferredBench((s) => s.project);
	const pointed = useDeferredBench((s) => s.pointed);
	const store = useBenchStore();
	const host = useRef<HTMLElement>(null);
	const { w: width } = useSize(host, 600);
	const live = query ? (world.queryById.get(query.id) ?? query) : null;
	const figures = figuresOf(world, geometry, current, touched);
	const bars = useMemo((): Bar[] => {
		if (!live || !geometry || !current) return [];
		const bar = (id: string, from: number, to: number, blocks: boolean): Bar => {
			const verdict = verdictOn(world, current, id);
			const figure = figures?.of.get(id);
			const rule = figures?.rule;
			const measured = rule?.rule === 'distance' && figure !== undefined ? figure : null;
			const plain = !rule || figure === undefined || (rule.rule === 'distance' && rule.to !== 'focus');
			const taken = current.selected.findIndex((s) => (s.through ?? s.object) === id);
			return {
				object: id,
				from,
				to,
				blocks,
				verdict,
				figure: measured === null || Math.abs(measured - from) < 1e-6 ? null : measured,
				said: plain ? '' : `, ${wordsOfFigure(rule, figure)}`,
				rank: current.selected.length > 1 && taken >= 0 ? taken + 1 : null,
			};
		};
		// What is touched but for a filter stands where it is met: how far through it is, is not asked.
		const there = current.verdicts
			.filter((v) => isWorthDrawing(current, v))
			.sort((a, b) => (a.met as number) - (b.met as number))
			.slice(0, MOST)
			.map((v) => bar(v.object, v.met as number, v.met as number, false));
		if (geometry.placement.path) {
			const merged = new Map<string, Bar>();
			for (const c of geometry.crossings) {
				const { id } = c.shape.object;
				const known = merged.get(id);
				if (known) {
					known.to = Math.max(known.to, c.exit);
					known.blocks ||= c.blocker;
					continue;
				}
				const made = bar(id, c.enter, c.exit, c.blocker);
				if (!c.blocker && made.verdict && BEFORE_TOUCH.has(made.verdict.stage) && !isThere(made.verdict)) continue;
				merged.set(id, made);
			}
			for (const made of there) if (!merged.has(made.object)) merged.set(made.object, made);
			return [...merged.values()].sort((a, b) => a.from - b.from);
		}
		// Of a throw only what it touches is known along its way; a volume has no way: each stands where the rule measured it.
		return touched
			.map((c) => {
				const made = bar(c.object.id, c.distance, c.distance, false);
				return made.figure === null ? made : { ...made, from: made.figure, to: made.figure, figure: null };
			})
			.concat(there)
			.sort((a, b) => a.from - b.from);
	}, [world, live, geometry, current, touched, figures]);

	const path = geometry?.placement.path;
	/** What goes along something, straight or thrown. */
	const way = path ?? geometry?.placement.arc;
	/** What a longer path would reach first. */
	const next = useMemo(() => {
		let best: { object: string; beyond: number } | null = null;
		for (const { object, beyond } of current?.verdicts ?? [])
			if (beyond !== undefined && (!best || beyond < best.beyond)) best = { object, beyond };
		return best;
	}, [current]);
	const furthest = Math.max(0.5, ...bars.map((b) => Math.max(b.to, b.figure ?? 0))) * 1.15;
	/** While the length is pulled the scale stays as it was when it was grabbed. */
	const [held, setHeld] = useState<number | null>(null);
	const inside = way
		? Math.min(way.length, Math.max(furthest, way.length <= 30 ? way.length : 0))
		: Math.max(furthest, live?.range?.max ?? 0);
	const past = path && next && inside === path.length ? path.length + next.beyond : null;
	const max = held ?? (past === null ? inside : past * 1.12);
	const x = (d: number) => LEFT + (Math.min(d, max) / max) * (width - LEFT - RIGHT);
	const step = niceStep(max / Math.max(4, width / 110));
	const ticks = Array.from({ length: Math.floor(max / step) + 1 }, (_, i) => i * step);
	const byDistance = figures?.rule.rule === 'distance' ? figures : null;
	const slack = byDistance ? slackOf(byDistance.rule, world.tieSlack) : 0;
	const best = byDistance ? Math.min(...byDistance.of.values()) : Infinity;
	/** The path ends by a length that can be pulled, and its end is in sight. */
	const ends = !!path && !geometry?.placement.flatPick && inside === path.length && !(live && 'to' in live && live.to);
	const lengthen = (length: number) => {
		const next = Math.max(0, rounded(length, 2));
		editQuery(store, 'Length', (q) => {
			if (q.kind === 'ray' || q.kind === 'sweep' || q.kind === 'pick') q.length = next;
		});
	};
	const pastWords = next
		? `${cutName(nameOf(project, 'object', next.object))}, ${metres(next.beyond)} beyond its end`
		: '';
	const pastLong = pastWords.length * LETTER;
	/** Where the words about what lies beyond stand: right of its mark, between it and the end, or before the end. */
	const pastAt =
		past === null
			? 0
			: x(past) + 8 + pastLong < width
				? x(past) + 8
				: x(past) - 8 - pastLong > x(inside) + 10
					? x(past) - 8
					: x(inside) - 12;
	/** Names lie over no other, over neither end of the path, and within the axis; where there is no room the bar alone is drawn. */
	const placed = placeBars(
		bars.slice(0, MOST).map((bar) => {
			const whole = nameOf(project, 'object', bar.object);
			const name = `${bar.rank === null ? '' : `${bar.rank} `}${cutName(whole)}${bar.said}`;
			return { bar, name, whole, from: x(bar.from), to: Math.max(x(bar.from) + 3, x(bar.to)) };
		}),
		width,
		[
			...(ends || past !== null ? [{ x: x(inside) - 9, y: BASE - 20, w: 18, h: 40 }] : []),
			...(past !== null && next
				? [{ x: pastAt > x(past) ? pastAt : pastAt - pastLong, y: BASE - 19, w: pastLong, h: 14 }]
				: []),
		],
	);
	const reach = next && path ? Math.ceil((path.length + next.beyond) * 100 - 1e-9) / 100 : null;
	return (
		<section ref={host} aria-label="Distance axis" className="relative border-t bg-panel" style={{ height: HEIGHT }}>
			{live?.kind === 'hitbox' && current?.status !== 'off' ? (
				<Part key={live.id} what="The swing" load={loadSwing} give={{ query: live, width, height: HEIGHT - 1 }} />
			) : !live || current?.status === 'off' || current?.status === 'waiting' ? (
				<p className="p-3 text-quiet">
					No distances: the query{' '}
					{current?.status === 'off' ? 'is off' : current?.status === 'waiting' ? 'is waiting' : 'is still to be made'}.
				</p>
			) : (
				<svg
					width={width}
					height={HEIGHT}
					role="img"
					aria-label={stripWords(live, bars, (id) => nameOf(project, 'object', id))}
				>
					<line x1={LEFT} x2={x(inside)} y1={BASE} y2={BASE} stroke="var(--quiet)" />
					{past !== null && next && (
						<g>
							<line x1={x(inside)} x2={x(inside)} y1={8} y2={BASE} stroke="var(--short)" strokeWidth="1.5" />
							<line
								x1={x(inside)}
								x2={x(max)}
								y1={BASE}
								y2={BASE}
								stroke="var(--short)"
								strokeWidth="1.5"
								strokeDasharray="5 4"
							/>
							<circle cx={x(past)} cy={BASE - 12} r="4" fill="none" stroke="var(--short)" strokeWidth="1.5" />
							<text
								x={pastAt}
								y={BASE - 8}
								textAnchor={pastAt > x(past) ? 'start' : 'end'}
								fontSize="11.5"
								fill="var(--ink)"
								stroke="var(--panel)"
								strokeWidth="4"
								paintOrder="stroke"
							>
								{pastWords}
							</text>
						</g>
					)}
					{ticks.map((d) => (
						<g key={d} transform={`translate(${x(d)} ${BASE})`}>
							<line y2="4" stroke="var(--quiet)" />
							<text y="15" textAnchor="middle" className="figure" fontSize="10.5" fill="var(--quiet)">
								{metres(Number(d.toFixed(6)))}
							</text>
						</g>
					))}
					{Number.isFinite(best) && slack > 0 && (
						<rect
							x={x(best)}
							y={6}
							width={Math.max(1.5, x(best + slack) - x(best))}
							height={BASE - 6}
							fill="var(--tie)"
							opacity="0.35"
						/>
					)}
					{live.range && !live.range.from && !live.range.to && (
						<>
							{live.range.max !== undefined && live.range.max <= max && (
								<line
									x1={x(live.range.max)}
									x2={x(live.range.max)}
									y1={4}
									y2={BASE}
									stroke="var(--short)"
									strokeWidth="1.5"
									strokeDasharray="4 3"
								/>
							)}
							{live.range.min !== undefined && (
								<line
									x1={x(live.range.min)}
									x2={x(live.range.min)}
									y1={4}
									y2={BASE}
									stroke="var(--short)"
									strokeWidth="1.5"
									strokeDasharray="4 3"
								/>
							)}
						</>
					)}
					{placed.map(({ bar, y, name, whole, before }) => {
						const tone = bar.verdict ? `var(--${toneOf(bar.verdict.stage)})` : 'var(--quiet)';
						const w = Math.max(3, x(bar.to) - x(bar.from));
						const lit = pointed === bar.object;
						// There, but for a filter: an outline, as of what is open.
						const isLeftOut = !bar.blocks && bar.verdict !== undefined && isThere(bar.verdict);
						const cuts = bar.blocks && bar.verdict?.stage !== 'selected' && bar.verdict?.stage !== 'tied';
						return (
							// biome-ignore lint/a11y/noStaticElementInteractions: pointing is an aid; the ladder gives the same by keyboard
							<g
								key={bar.object}
								onPointerEnter={() => store.getState().point(bar.object)}
								onPointerLeave={() => store.getState().point(null)}
								onClick={() => store.getState().pick(bar.object)}
							>
								<rect
									x={x(bar.from)}
									y={y}
									width={w}
									height="11"
									fill={isLeftOut ? 'none' : cuts ? 'var(--cut)' : tone}
									opacity={cuts ? 0.85 : isLeftOut ? 1 : 0.65}
									stroke={lit ? 'var(--ink)' : isLeftOut ? tone : 'none'}
									strokeDasharray={isLeftOut ? '3 2' : undefined}
								/>
								{cuts && (
									<line x1={x(bar.from)} x2={x(bar.from)} y1={y - 3} y2={y + 14} stroke="var(--cut)" strokeWidth="3" />
								)}
								<text
									display={before === null ? 'none' : undefined}
									x={before ? x(bar.from) - 4 : x(bar.from) + w + 4}
									y={y + 9.5}
									textAnchor={before ? 'end' : 'start'}
									fontSize="11.5"
									fill="var(--ink)"
									fontWeight={lit ? 650 : 400}
								>
									{name}
									{name !== whole && <title>{whole}</title>}
								</text>
								{bar.figure !== null && (
									<path
										d={`M${x(bar.figure)} ${y - 1}l5 6.5l-5 6.5l-5 -6.5z`}
										fill="var(--panel)"
										stroke={tone}
										strokeWidth="1.6"
									/>
								)}
							</g>
						);
					})}
					{bars.length === 0 && (
						<text x={LEFT} y={30} fontSize="12" fill="var(--quiet)">
							{path
								? 'Nothing the query can choose, and nothing that stops it, lies on its path.'
								: way
									? 'Nothing the query can choose lies where it flies.'
									: 'Nothing in the volume gets through the filters.'}
						</text>
					)}
				</svg>
			)}
			{live &&
				live.kind !== 'hitbox' &&
				figures &&
				figures.of.size > 1 &&
				(figures.rule.rule !== 'distance' || figures.rule.to === 'focus') && (
					<p className="pointer-events-none absolute top-0.5 right-2 text-[11.5px] text-quiet">
						told apart by: {ruleWords(figures.rule)}
					</p>
				)}
			{live && ends && path && (
				<div
					role="slider"
					tabIndex={0}
					aria-label="Length of the path"
					aria-valuemin={0}
					aria-valuemax={Math.max(1e9, path.length)}
					aria-valuenow={rounded(path.length, 2)}
					aria-valuetext={metres(path.length)}
					title={`Length: ${metres(path.length)}. Pull, or step with the arrow keys`}
					className="grip absolute flex w-6 cursor-ew-resize touch-none items-center justify-center"
					style={{ left: x(path.length) - 12, top: BASE - 18, height: 36 }}
					onPointerDown={(event) => {
						if (event.button !== 0) return;
						event.preventDefault();
						event.currentTarget.focus();
						const from = event.clientX;
						const perPixel = max / (width - LEFT - RIGHT);
						setHeld(max);
						store.getState().beginGesture('Length');
						beginDrag(event, {
							move: (move) => lengthen(path.length + (move.clientX - from) * perPixel),
							end: () => {
								setHeld(null);
								store.getState().endGesture();
							},
							cancel: () => {
								setHeld(null);
								store.getState().cancelGesture();
							},
						});
					}}
					onKeyDown={(event) => {
						const way = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
						if (way === undefined) return;
						event.preventDefault();
						event.stopPropagation();
						lengthen(path.length + way * (event.shiftKey ? 1 : 0.1));
					}}
				>
					<span className="h-4 w-1.5 rounded-[1px] border border-panel bg-ink" />
				</div>
			)}
			{live && ends && past !== null && next && reach !== null && held === null && (
				<button
					type="button"
					className="absolute size-6 rounded-full"
					style={{ left: x(past) - 12, top: BASE - 24 }}
					aria-label={`Make it ${metres(reach)} long: as far as ${nameOf(project, 'object', next.object)}`}
					title={`Make it ${metres(reach)} long: as far as ${nameOf(project, 'object', next.object)}`}
					onClick={() => lengthen(reach)}
				/>
			)}
		</section>
	);
}

const ROWS = [6, 21, 36, 51];
/** Pixels of a letter. */
const LETTER = 6.4;

interface Placing {
	bar: Bar;
	name: string;
	whole: string;
	/** Where its bar lies, pixels. */
	from: number;
	to: number;
}

/** A row for each bar, and the side its name stands on: `before` it or not, null where neither has room. */
function placeBars(list: readonly Placing[], width: number, kept: readonly Rect[]) {
	const taken: Rect[] = [...kept];
	const room: Rect = { x: 0, y: 0, w: width, h: HEIGHT };
	return list.map(({ bar, name, whole, from, to }, i) => {
		const long = name.length * LETTER + 4;
		const places = ROWS.flatMap((_, k) => {
			// Bars one behind the other go down the rows, as long as their names have room there.
			const y = ROWS[(i + k) % ROWS.length];
			return [false, true].map((before) => ({
				y,
				before,
				box: { x: before ? from - long - 4 : from, y, w: to - from + long + 4, h: 13 },
			}));
		});
		const free = takeFree(
			places.map((p) => p.box),
			room,
			taken,
		);
		const place = places[free];
		return { bar, name, whole, y: place?.y ?? ROWS[i % ROWS.length], before: place?.before ?? null };
	});
}

function niceStep(rough: number): number {
	const power = 10 ** Math.floor(Math.log10(Math.max(1e-6, rough)));
	const part = rough / power;
	return (part <= 1 ? 1 : part <= 2 ? 2 : part <= 5 ? 5 : 10) * power;
}

function stripWords(query: Query, bars: Bar[], name: (id: string) => string): string {
	const parts = bars.map((b) => `${name(b.object)} at ${metres(b.from)}${b.blocks ? ', blocks' : ''}`);
	return `Distances of ${query.name ?? query.id}: ${parts.join('; ') || 'nothing met'}`;
}
