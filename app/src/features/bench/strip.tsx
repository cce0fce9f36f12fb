/** The distance strip: one axis from the query's start; what it meets where, what stops it, and how near things come to a tie. */
import { metres, type Query, rulesOf, slackOf, type Verdict } from '@frelk/core';
import { useLayoutEffect, useMemo, useRef, useState } from 'react';
import { verdictOn } from '../../model/derived';
import { nameOf } from '../../model/names';
import { queryIn, useBenchStore, useDeferredBench, useDeferredDerived } from '../../model/use-bench';
import { toneOf } from '../../ui/marks';
import { useQueryGeometry } from '../stage/overlay/geometry';

const HEIGHT = 92;
/** Where the axis runs. */
const BASE = HEIGHT - 26;
const LEFT = 20;
const RIGHT = 28;

const cutName = (name: string): string => (name.length > 36 ? `${name.slice(0, 35)}…` : name);

interface Bar {
	object: string;
	from: number;
	to: number;
	blocks: boolean;
	verdict: Verdict | undefined;
}

export function Strip() {
	const { world, current, touched } = useDeferredDerived();
	const query = useDeferredBench(queryIn);
	const geometry = useQueryGeometry(world, query, current);
	const project = useDeferredBench((s) => s.project);
	const pointed = useDeferredBench((s) => s.pointed);
	const store = useBenchStore();
	const host = useRef<HTMLElement>(null);
	const [width, setWidth] = useState(600);
	useLayoutEffect(() => {
		const element = host.current;
		if (!element) return;
		const observer = new ResizeObserver(() => setWidth(element.clientWidth));
		observer.observe(element);
		return () => observer.disconnect();
	}, []);
	const live = query ? (world.queryById.get(query.id) ?? query) : null;
	const bars = useMemo((): Bar[] => {
		if (!live || !geometry || !current) return [];
		const of = (id: string) => verdictOn(world, current, id);
		if (geometry.placement.path) {
			const merged = new Map<string, Bar>();
			for (const c of geometry.crossings) {
				const id = c.shape.object.id;
				const verdict = of(id);
				if (!c.blocker && verdict && ['layer', 'tags', 'side', 'state', 'role'].includes(verdict.stage)) continue;
				const known = merged.get(id);
				if (known) {
					known.to = Math.max(known.to, c.exit);
					known.blocks ||= c.blocker;
				} else merged.set(id, { object: id, from: c.enter, to: c.exit, blocks: c.blocker, verdict });
			}
			return [...merged.values()];
		}
		return touched
			.map((c) => ({ object: c.object.id, from: c.distance, to: c.distance, blocks: false, verdict: of(c.object.id) }))
			.sort((a, b) => a.from - b.from);
	}, [world, live, geometry, current, touched]);

	const path = geometry?.placement.path;
	/** What a longer path would reach first. */
	const next = useMemo(() => {
		let best: { object: string; beyond: number } | null = null;
		for (const { object, beyond } of current?.verdicts ?? [])
			if (beyond !== undefined && (!best || beyond < best.beyond)) best = { object, beyond };
		return best;
	}, [current]);
	const furthest = Math.max(0.5, ...bars.map((b) => b.to)) * 1.15;
	const inside = path
		? Math.min(path.length, Math.max(furthest, path.length <= 30 ? path.length : 0))
		: Math.max(furthest, live?.range?.max ?? 0);
	const past = path && next && inside === path.length ? path.length + next.beyond : null;
	const max = past === null ? inside : past * 1.12;
	const x = (d: number) => LEFT + (Math.min(d, max) / max) * (width - LEFT - RIGHT);
	const step = niceStep(max / Math.max(4, width / 110));
	const ticks = Array.from({ length: Math.floor(max / step) + 1 }, (_, i) => i * step);
	const slack = live ? slackOf(rulesOf(live)[0] ?? { rule: 'distance' }, world.tieSlack) : 0;
	const contact = current?.selected[0]?.distance ?? null;
	return (
		<section ref={host} aria-label="Distance strip" className="border-t bg-panel" style={{ height: HEIGHT }}>
			{!live || current?.status === 'off' || current?.status === 'waiting' ? (
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
								x={x(past) - 8}
								y={BASE - 8}
								textAnchor="end"
								fontSize="11.5"
								fill="var(--ink)"
								stroke="var(--panel)"
								strokeWidth="4"
								paintOrder="stroke"
							>
								{cutName(nameOf(project, 'object', next.object))}, {metres(next.beyond)} beyond its end
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
					{contact !== null && slack > 0 && (
						<rect
							x={x(contact)}
							y={6}
							width={Math.max(1.5, x(contact + slack) - x(contact))}
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
					{bars.slice(0, 24).map((bar, i) => {
						const y = 6 + (i % 4) * 15;
						const tone = bar.verdict ? `var(--${toneOf(bar.verdict.stage)})` : 'var(--quiet)';
						const w = Math.max(3, x(bar.to) - x(bar.from));
						const lit = pointed === bar.object;
						const whole = nameOf(project, 'object', bar.object);
						const name = cutName(whole);
						// A name that would run out of the strip stands before its bar.
						const before = x(bar.from) + w + 4 + name.length * 6.4 > width && x(bar.from) > width / 2;
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
									fill={cuts ? 'var(--cut)' : tone}
									opacity={cuts ? 0.85 : 0.65}
									stroke={lit ? 'var(--ink)' : 'none'}
								/>
								{cuts && (
									<line x1={x(bar.from)} x2={x(bar.from)} y1={y - 3} y2={y + 14} stroke="var(--cut)" strokeWidth="3" />
								)}
								<text
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
							</g>
						);
					})}
					{bars.length === 0 && (
						<text x={LEFT} y={30} fontSize="12" fill="var(--quiet)">
							{path
								? 'Nothing the query can choose, and nothing that stops it, lies on its path.'
								: 'Nothing in the volume passes.'}
						</text>
					)}
				</svg>
			)}
		</section>
	);
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
