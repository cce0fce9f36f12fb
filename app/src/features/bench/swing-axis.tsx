/** The time of a swing: when each box is open and whom it hits; a hand that is drawn through it, or let go by itself. */
import { Answerer, isOpenAt, type Query } from '@frelk/core';
import { Play, Square } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { namingOf } from '../../model/names';
import { useBench, useBenchStore, useDeferredDerived } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { beginDrag } from '../../ui/drag';

type Hitbox = Extract<Query, { kind: 'hitbox' }>;

const ROW = 17;
const LEFT = 58;
/** Room for the names of those hit. */
const RIGHT = 190;

/** How long the axis is: the last window's end, and a little after; seconds. */
function lengthOf(query: Hitbox): number {
	const ends = query.boxes.map((b) => b.until ?? (b.from ?? 0) + 0.5);
	return Math.max(0.1, ...ends) * 1.15;
}

export default function SwingAxis({ query, width, height }: { query: Hitbox; width: number; height: number }) {
	const store = useBenchStore();
	const { world, current } = useDeferredDerived();
	const naming = useBench((s) => namingOf(s.project.scene));
	const at = useBench((s) => s.swing);
	const [playing, setPlaying] = useState(false);
	const long = lengthOf(query);
	const room = Math.max(80, width - LEFT - RIGHT);
	const x = (t: number) => LEFT + (Math.min(t, long) / long) * room;
	const rows = Math.min(query.boxes.length, Math.floor((height - 24) / ROW));
	/** What the boxes that are open at the instant hit. */
	const now = useMemo(() => {
		if (at === null) return null;
		const boxes = query.boxes.filter((b) => isOpenAt(b, at));
		return boxes.length === 0 ? [] : new Answerer(world).winner({ ...query, boxes }).selected.map((s) => s.object);
	}, [world, query, at]);
	const hitWords = (t: number): string =>
		now && now.length > 0
			? `hits ${now.map((id) => naming('object', id)).join(', ')}`
			: query.boxes.some((b) => isOpenAt(b, t))
				? 'hits nothing'
				: 'no box is open';
	const windows = query.boxes.map((b, i) => `box ${i} open ${b.from ?? 0} to ${b.until ?? 'the end'} s`);
	const swings = useBench((s) => s.swings);
	const letGo = useRef(swings);
	useEffect(() => {
		if (swings !== letGo.current) setPlaying(true);
		letGo.current = swings;
	}, [swings]);
	useEffect(() => {
		if (!playing) return;
		const began = performance.now();
		let frame = requestAnimationFrame(function step() {
			const t = (performance.now() - began) / 1000;
			// Its end is shown too, however few pictures there were time for.
			store.getState().swingAt(Math.min(t, long));
			if (t > long) return setPlaying(false);
			frame = requestAnimationFrame(step);
		});
		return () => cancelAnimationFrame(frame);
	}, [playing, long, store]);
	// The instant belongs to this query, for as long as it is open.
	useEffect(() => () => store.getState().swingAt(null), [store]);
	const host = useRef<HTMLDivElement>(null);
	const set = (clientX: number) => {
		const left = host.current?.getBoundingClientRect().left ?? 0;
		const t = ((clientX - left - LEFT) / room) * long;
		store.getState().swingAt(Math.max(0, Math.min(long, t)));
	};
	return (
		<div ref={host} className="relative h-full">
			<svg
				width={width}
				height={height}
				role="img"
				aria-label={`Windows of ${query.name ?? query.id}: ${windows.join('; ')}`}
				onPointerDown={(event) => {
					setPlaying(false);
					set(event.clientX);
					beginDrag(event, { move: (move) => set(move.clientX) });
				}}
			>
				{query.boxes.slice(0, rows).map((box, i) => {
					const y = 4 + i * ROW;
					const hits = (current?.selected ?? []).filter((s) => s.box === i).map((s) => naming('object', s.object));
					const open = at !== null && isOpenAt(box, at);
					const from = x(box.from ?? 0);
					const to = x(box.until ?? long);
					return (
						// biome-ignore lint/suspicious/noArrayIndexKey: boxes have no name but their place
						<g key={i}>
							<text x={8} y={y + 11} fontSize="11.5" fill="var(--quiet)">
								box {i}
							</text>
							<line x1={LEFT} x2={LEFT + room} y1={y + 7} y2={y + 7} stroke="var(--line)" />
							<rect
								x={from}
								y={y + 1}
								width={Math.max(2, to - from)}
								height="12"
								fill={hits.length > 0 ? 'var(--chosen)' : 'var(--quiet)'}
								opacity={at === null || open ? 0.75 : 0.3}
								stroke={open ? 'var(--ink)' : 'none'}
							/>
							<text x={LEFT + room + 8} y={y + 11} fontSize="11.5" fill="var(--ink)">
								{hits.length > 0 ? hits.join(', ').slice(0, 28) : '–'}
							</text>
						</g>
					);
				})}
				<text x={LEFT} y={height - 6} fontSize="10.5" className="figure" fill="var(--quiet)">
					0 s
				</text>
				<text x={LEFT + room} y={height - 6} textAnchor="end" fontSize="10.5" className="figure" fill="var(--quiet)">
					{Number(long.toFixed(2))} s
				</text>
				{at !== null && (
					<path d={`M${x(at)} 0V${height - 16}`} stroke="var(--ink)" strokeWidth="1.5" pointerEvents="none" />
				)}
			</svg>
			<div className="absolute right-2 bottom-1 flex items-center gap-2 text-[12px]" style={{ left: LEFT + 40 }}>
				<input
					type="range"
					aria-label="Instant of the swing"
					aria-valuetext={at === null ? 'the whole swing' : `${at.toFixed(2)} s`}
					min={0}
					max={long}
					step={0.01}
					value={at ?? 0}
					className="w-32"
					onChange={(event) => {
						setPlaying(false);
						store.getState().swingAt(Number(event.target.value));
					}}
				/>
				<Button
					className="min-h-5! py-0!"
					aria-label={playing ? 'Stop the swing' : 'Swing'}
					title="Let the swing run (w)"
					onClick={() => setPlaying(!playing)}
				>
					{playing ? <Square size={11} /> : <Play size={11} />} Swing
				</Button>
				<span role="status" className="min-w-0 truncate">
					{at === null ? 'the whole swing' : `${at.toFixed(2)} s: ${hitWords(at)}`}
				</span>
				{at !== null && (
					<Button
						quiet
						className="min-h-5! py-0!"
						onClick={() => {
							setPlaying(false);
							store.getState().swingAt(null);
						}}
					>
						All of it
					</Button>
				)}
			</div>
		</div>
	);
}
