/** What the game took beside what Frelk selects, line after line, with one line through all: where the stage stands. */
import type { Naming } from '@frelk/core';
import { memo, useMemo, useRef } from 'react';
import { beginDrag } from '../../ui/drag';
import { useSize } from '../../ui/use-size';
import type { Seen } from '../../workers/trace';
import { type Stretch, type TraceLane, traceLanes } from './stretches';

const LEFT = 150;
const RIGHT = 16;
const HEAD = 20;
const ROW = 18;
const OF_ONE = HEAD + 2 * ROW + 8;

const differWords = (n: number): string => `${n} ${n === 1 ? 'stretch differs' : 'stretches differ'}`;

interface Props {
	seen: readonly Seen[];
	naming: Naming;
	titleOf: (query: string) => string;
	chosen: string | null;
	onChoose: (query: string) => void;
	onPoint: (at: number) => void;
}

/** @param at place of the line at which the stage stands */
export function TraceLanes({ at, ...props }: Props & { at: number }) {
	const host = useRef<HTMLDivElement>(null);
	const { w: width } = useSize(host, 600);
	const room = Math.max(60, width - LEFT - RIGHT);
	const { seen } = props;
	const lanes = useMemo(() => traceLanes(seen), [seen]);
	const x = LEFT + (seen.length < 2 ? 0 : (at / (seen.length - 1)) * room);
	return (
		<div ref={host} className="relative">
			<Body {...props} lanes={lanes} width={width} />
			<div
				aria-hidden="true"
				className="pointer-events-none absolute top-0 w-[1.6px] bg-ink"
				style={{ left: x, height: 4 + lanes.length * OF_ONE }}
			/>
		</div>
	);
}

const Body = memo(function Body({
	seen,
	naming,
	titleOf,
	chosen,
	onChoose,
	onPoint,
	lanes,
	width,
}: Props & { lanes: TraceLane[]; width: number }) {
	const room = Math.max(60, width - LEFT - RIGHT);
	const last = Math.max(1, seen.length - 1);
	const x = (at: number) => LEFT + (at / last) * room;
	const height = 4 + lanes.length * OF_ONE + 18;
	const told = lanes.map(({ query, differ }) => `${titleOf(query)}, ${differWords(differ.length)}`);
	const point = (element: Element, clientX: number) => {
		const box = element.getBoundingClientRect();
		onPoint(Math.round(Math.max(0, Math.min(1, (clientX - box.left - LEFT) / room)) * (seen.length - 1)));
	};
	return (
		<>
			<svg
				width={width}
				height={height}
				role="img"
				aria-label={`The game's choice beside Frelk's: ${told.join('; ')}`}
				className="touch-none"
				onPointerDown={(event) => {
					const element = event.currentTarget;
					point(element, event.clientX);
					beginDrag(event, { move: (move) => point(element, move.clientX) });
				}}
			>
				<defs>
					<pattern id="differs" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
						<path d="M0 0V6" stroke="var(--cut)" strokeWidth="2" />
					</pattern>
				</defs>
				{lanes.map((lane, i) => {
					const top = 4 + i * OF_ONE;
					return (
						<g key={lane.query}>
							<text x="0" y={top + 13} fontSize="12.5" fontWeight="650" fill="var(--ink)">
								{lane.query === chosen ? '› ' : ''}
								{titleOf(lane.query)}
							</text>
							<Lane stretches={lane.game} label="the game" y={top + HEAD} x={x} naming={naming} fill="var(--quiet)" />
							<Lane
								stretches={lane.frelk}
								label="Frelk"
								y={top + HEAD + ROW}
								x={x}
								naming={naming}
								fill="var(--chosen)"
							/>
							{lane.differ.map(({ from, to }) => (
								<g key={from}>
									<rect
										x={x(from) - 1}
										y={top + HEAD - 3}
										width={Math.max(3, x(to + 1) - x(from))}
										height={2 * ROW + 2}
										fill="url(#differs)"
										opacity="0.35"
									/>
									<path d={`M${x(from)} ${top + HEAD - 4}v${2 * ROW + 4}`} stroke="var(--cut)" strokeWidth="2" />
								</g>
							))}
						</g>
					);
				})}
				<text x={LEFT} y={height - 4} fontSize="10.5" className="figure" fill="var(--quiet)">
					{(seen[0]?.line.t ?? 0).toFixed(2)} s
				</text>
				<text x={LEFT + room} y={height - 4} textAnchor="end" fontSize="10.5" className="figure" fill="var(--quiet)">
					{(seen.at(-1)?.line.t ?? 0).toFixed(2)} s
				</text>
			</svg>
			<div className="absolute top-0 left-0">
				{lanes.map((lane, i) => (
					<button
						key={lane.query}
						type="button"
						aria-pressed={lane.query === chosen}
						aria-label={`Open ${titleOf(lane.query)}`}
						className="absolute h-5 rounded-[2px] hover:bg-[var(--wash)]"
						style={{ top: 2 + i * OF_ONE, left: 0, width: LEFT - 6 }}
						onClick={() => onChoose(lane.query)}
					/>
				))}
			</div>
		</>
	);
});

/** Below this no name is written into a stretch, pixels; and pixels a character takes. */
const NAMED = 26;
const CHARACTER = 6.2;

function Lane({
	stretches,
	label,
	y,
	x,
	naming,
	fill,
}: {
	stretches: readonly Stretch[];
	label: string;
	y: number;
	x: (at: number) => number;
	naming: Naming;
	fill: string;
}) {
	return (
		<g>
			<text x={LEFT - 8} y={y + 10} textAnchor="end" fontSize="11" fill="var(--quiet)">
				{label}
			</text>
			{stretches.map((s) => {
				const width = Math.max(1.5, x(s.to + 1) - x(s.from) - 0.5);
				const named = s.objects.map((o) => naming('object', o)).join(', ');
				const text = s.status === null ? named : s.status === 'tie' ? `tie: ${named}` : s.status;
				const nothing = text === '';
				const room = Math.floor(width / CHARACTER);
				return (
					<g key={s.from}>
						<rect
							x={x(s.from)}
							y={y + (nothing ? 5 : 0)}
							width={width}
							height={nothing ? 2 : 13}
							fill={nothing ? 'var(--line)' : 'none'}
							stroke={nothing ? 'none' : fill}
							strokeWidth="1.2"
						/>
						{!nothing && width >= NAMED && (
							<text x={x(s.from) + 4} y={y + 10} fontSize="10.5" fill="var(--ink)">
								{text.length > room ? `${text.slice(0, Math.max(1, room - 1))}…` : text}
							</text>
						)}
					</g>
				);
			})}
		</g>
	);
}
