/** Lanes of objects over the time of a run, with one line through all of them: the instant. */
import type { Naming, Run } from '@frelk/core';
import { lastStep } from '@frelk/core';
import type { EntryLanes, RunResult, Stretch } from '@frelk/core/runs';
import { lanesOf } from '@frelk/core/runs';
import { memo, type ReactNode, type RefObject, useMemo, useRef } from 'react';
import { beginDrag } from '../../ui/drag';
import { useSize } from '../../ui/use-size';

const ROW = 18;
const HEAD = 22;
const LEFT = 150;
const RIGHT = 16;

/** Told apart by height and form as well as tone. */
const FORMS: Record<Stretch['how'], { y: number; h: number; fill: string; stroke?: string }> = {
	touched: { y: 8, h: 2, fill: 'var(--quiet)' },
	contends: { y: 6, h: 6, fill: 'none', stroke: 'var(--outranked)' },
	tied: { y: 3, h: 12, fill: 'url(#tie)', stroke: 'var(--tie)' },
	chosen: { y: 3, h: 12, fill: 'var(--chosen)' },
};

interface LanesProps {
	run: Run;
	result: RunResult;
	onPoint: (t: number) => void;
	naming: Naming;
	/** What an entry is called. */
	titleOf?: (watch: string) => string;
	/** The entry whose query is open, and what opens another. */
	chosen?: string | null;
	onChoose?: (watch: string) => void;
	/** What goes on below on the same time. */
	children?: (left: number, room: number) => ReactNode;
}

const ownName = (watch: string): string => watch;

/** Where the lanes end, pixels. */
const bottomOf = (entries: readonly EntryLanes[]): number =>
	entries.length === 0
		? HEAD
		: entries.reduce((height, { lanes }) => height + HEAD + Math.max(1, lanes.length) * ROW, 4);

/** @param at the instant, seconds: the one thing that is drawn again while time runs */
export function Lanes({ at, ...props }: LanesProps & { at: number }) {
	const host = useRef<HTMLDivElement>(null);
	const { w: width } = useSize(host, 600);
	const { run, result } = props;
	const end = lastStep(run) * run.step;
	const entries = useMemo(() => lanesOf(result, end), [result, end]);
	const room = Math.max(60, width - LEFT - RIGHT);
	return (
		<div ref={host} className="relative">
			<Body {...props} entries={entries} width={width} host={host} />
			<div
				aria-hidden="true"
				className="pointer-events-none absolute top-0 w-[1.6px] bg-ink"
				style={{ left: LEFT + (end === 0 ? 0 : (at / end) * room), height: bottomOf(entries) }}
			/>
		</div>
	);
}

const Body = memo(function Body({
	run,
	result,
	onPoint,
	naming,
	titleOf = ownName,
	chosen = null,
	onChoose,
	children,
	entries,
	width,
	host,
}: LanesProps & { entries: EntryLanes[]; width: number; host: RefObject<HTMLDivElement | null> }) {
	const end = lastStep(run) * run.step;
	const room = Math.max(60, width - LEFT - RIGHT);
	const x = (t: number) => LEFT + (end === 0 ? 0 : (t / end) * room);
	const point = (clientX: number) => {
		const left = host.current?.getBoundingClientRect().left ?? 0;
		const t = Math.max(0, Math.min(1, (clientX - left - LEFT) / room)) * end;
		onPoint(Math.round(t / run.step) * run.step);
	};
	const tops: number[] = [];
	let height = 4;
	for (const { lanes } of entries) {
		tops.push(height);
		height += HEAD + Math.max(1, lanes.length) * ROW;
	}
	const below = bottomOf(entries);
	height = below + 26;
	const marks = result.events.flatMap((e, i) =>
		e.kind === 'press'
			? [{ key: i, t: e.t, letter: 'press' }]
			: e.kind === 'hit'
				? [{ key: i, t: e.t, letter: `hit ${naming('object', e.object)}` }]
				: e.kind === 'held' || e.kind === 'broken'
					? [{ key: i, t: e.t, letter: e.kind }]
					: e.kind === 'lock'
						? [{ key: i, t: e.t, letter: e.do }]
						: e.kind === 'undecided'
							? [{ key: i, t: e.t, letter: 'undecided' }]
							: [],
	);
	return (
		<>
			<svg
				width={width}
				height={height}
				role="img"
				aria-label={`Lanes of ${run.name ?? run.id}: ${entries.map((e) => `${e.watch}, ${e.lanes.length} objects`).join('; ')}`}
				className="touch-none"
				onPointerDown={(event) => {
					point(event.clientX);
					beginDrag(event, { move: (move) => point(move.clientX) });
				}}
			>
				<defs>
					<pattern id="tie" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
						<path d="M0 0V5" stroke="var(--tie)" strokeWidth="2.5" />
					</pattern>
				</defs>
				{entries.map((entry, i) => (
					<Entry
						key={entry.watch}
						entry={entry}
						title={titleOf(entry.watch)}
						isChosen={entry.watch === chosen}
						top={tops[i] ?? 0}
						x={x}
						end={end}
						naming={naming}
					/>
				))}
				{entries.length === 0 && (
					<text x="0" y="14" fontSize="12.5" fill="var(--quiet)">
						Nothing is watched yet: choose what under Run, at the right.
					</text>
				)}
				{marks.map((m) => (
					<g key={m.key}>
						<path d={`M${x(m.t)} 2V${below}`} stroke="var(--ink)" strokeDasharray="2 3" />
						<text x={Math.min(x(m.t) + 3, width - 60)} y={below + 10} fontSize="11" fill="var(--ink)">
							{m.letter}
						</text>
					</g>
				))}
				<text x={LEFT} y={height - 3} fontSize="10.5" className="figure" fill="var(--quiet)">
					0 s
				</text>
				<text x={LEFT + room} y={height - 3} textAnchor="end" fontSize="10.5" className="figure" fill="var(--quiet)">
					{Number(end.toFixed(3))} s
				</text>
			</svg>
			{onChoose && (
				<div className="absolute top-0 left-0">
					{entries.map((entry, i) => (
						<button
							key={entry.watch}
							type="button"
							aria-pressed={entry.watch === chosen}
							aria-label={`Open what ${titleOf(entry.watch)} watches`}
							className="absolute h-5 rounded-[2px] hover:bg-[var(--wash)]"
							style={{ top: tops[i], left: 0, width: LEFT - 6 }}
							onClick={() => onChoose(entry.watch)}
						/>
					))}
				</div>
			)}
			{children?.(LEFT, room)}
		</>
	);
});

function Entry({
	entry,
	title,
	isChosen,
	top,
	x,
	end,
	naming,
}: {
	entry: EntryLanes;
	title: string;
	isChosen: boolean;
	top: number;
	x: (t: number) => number;
	end: number;
	naming: Naming;
}) {
	return (
		<g>
			<text x="0" y={top + 14} fontSize="12.5" fontWeight="650" fill="var(--ink)">
				{isChosen ? '› ' : ''}
				{title}
			</text>
			{entry.lanes.length === 0 && (
				<text x={LEFT} y={top + HEAD + 12} fontSize="11.5" fill="var(--quiet)">
					nothing was ever touched
				</text>
			)}
			{entry.lanes.map((lane, i) => {
				const y = top + HEAD + i * ROW;
				const name = naming('object', lane.object);
				return (
					<g key={lane.object}>
						<text x="8" y={y + 13} fontSize="11.5" fill="var(--quiet)">
							{name.length > 22 ? `${name.slice(0, 21)}…` : name}
						</text>
						<line x1={x(0)} x2={x(end)} y1={y + 9} y2={y + 9} stroke="var(--line)" />
						{lane.stretches.map((s) => {
							const form = FORMS[s.how];
							return (
								<rect
									key={`${s.how} ${s.from}`}
									x={x(s.from)}
									y={y + form.y}
									width={Math.max(2, x(s.to) - x(s.from))}
									height={form.h}
									fill={form.fill}
									stroke={form.stroke}
								/>
							);
						})}
						{lane.missed.map((t) => (
							<path key={t} d={`M${x(t) - 4} ${y + 5}l8 8m0 -8l-8 8`} stroke="var(--cut)" strokeWidth="2">
								<title>{`${name} is touched here, between two steps only`}</title>
							</path>
						))}
					</g>
				);
			})}
		</g>
	);
}
