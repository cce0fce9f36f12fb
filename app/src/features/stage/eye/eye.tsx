/** The eye: the picture from the query's camera or the asker's eye, with the cursor on it to drag and the prompt as a player sees it. */
import {
	type Answer,
	cursorRay,
	type Query,
	rounded,
	type Stage,
	type Verdict,
	type View,
	type World,
} from '@frelk/core';
import { unturned } from '@frelk/core/geometry';
import { Move, Scaling, X } from 'lucide-react';
import { memo, useMemo, useRef, useState } from 'react';
import { pictureKey, toPixels } from '../../../drawing/view';
import { editQuery } from '../../../model/store';
import { useBench, useBenchStore, useDeferredDerived } from '../../../model/use-bench';

import { beginDrag } from '../../../ui/drag';
import { Mark } from '../../../ui/marks';
import { Part } from '../../../ui/part';
import { useLatest } from '../../../ui/use-latest';
import { beginMove } from '../timing';
import type { Corner, EyePlace } from '../use-stage-view';
import type { EyePicture } from './picture';
import { moverOf, walkStep } from './walking';

interface MarksProps {
	view: View;
	/** Pixels of the eye to one of the picture. */
	scale: number;
}

/** Stages of which the eye marks the objects. */
const MARKED = new Set<Stage>(['selected', 'tied', 'choice', 'sight', 'range']);
const MAX_MARKS = 40;

/** Drawn again with the answer and with the camera, but not for every place of the cursor. */
const Marks = memo(
	({ view, scale }: MarksProps) => {
		const { world, current: answer } = useDeferredDerived();
		const shown: Verdict[] = [];
		const verdicts = answer?.verdicts ?? [];
		for (let i = 0; i < verdicts.length && shown.length < MAX_MARKS; i++) {
			const v = verdicts[i] as Verdict;
			if (MARKED.has(v.stage)) shown.push(v);
		}
		return shown.map((v) => {
			const object = world.objectById.get(v.object);
			const p = object ? toPixels(view, object.focus) : null;
			if (!p) return null;
			return (
				<g key={v.object} transform={`translate(${p[0] * scale - 5} ${p[1] * scale - 5})`}>
					<Mark stage={v.stage} size={10} />
				</g>
			);
		});
	},
	(a, b) => a.scale === b.scale && pictureKey(a.view) === pictureKey(b.view),
);

/** Loaded when a map is first looked at. */
const loadMap = () => import('../../map/over-eye');

const NEXT: Record<Corner, Corner> = {
	'bottom right': 'bottom left',
	'bottom left': 'top left',
	'top left': 'top right',
	'top right': 'bottom right',
};

/** The cursor, about its own place. */
const CROSS = 'M-11 0h7m8 0h7M0 -11v7m0 8v7';

export function Eye({
	picture,
	world,
	query,
	answer,
	through,
	place,
	put,
	mapped,
	setMapped,
	mapClip,
}: {
	picture: EyePicture;
	world: World;
	query: Query | null;
	answer: Answer | null;
	/** A camera looked through instead of the query's. */
	through: string | null;
	/** Where it lies on the stage; null where it has the room. */
	place: EyePlace | null;
	put: (place: EyePlace) => void;
	/** Whether the map of the query lies over the picture. */
	mapped: boolean;
	setMapped: (mapped: boolean) => void;
	/** What of the picture the map may cover, as a clip path: the stage is over it while the eye has the room. */
	mapClip: string | undefined;
}) {
	const store = useBenchStore();
	const { w, h, view, drives } = picture;
	const scale = w / view.width;
	const svg = useRef<SVGSVGElement>(null);
	const name = query?.name ?? query?.id ?? picture.title;
	const prompt = answer?.selected[0]?.prompt ?? null;
	const room = Math.max(4, Math.floor((w - 40) / 7.2));
	const shownPrompt = prompt !== null && prompt.length > room ? `${prompt.slice(0, room - 1)}…` : (prompt ?? '');
	const [walking, setWalking] = useState(false);
	const mappable = drives !== null && through === null;
	const mover = useMemo(() => moverOf(world, query, through), [world, query, through]);
	const firm = useBench((s) => (s.firm !== null && s.firm.query === query?.id ? s.firm.margins : null));
	const cursorFirm = firm?.find((f) => f.perturbation === 'cursor' && f.least !== null);

	const moveTo = (x: number, y: number) => {
		if (drives === 'cursor')
			editQuery(
				store,
				'Move the cursor',
				(q) => q.kind === 'pick' && void (q.cursor = [Math.round(x * 10) / 10, Math.round(y * 10) / 10]),
			);
		if (drives === 'aim') {
			const { dir } = cursorRay({ ...view, cursor: [x, y] }, world.flat);
			editQuery(store, 'Turn the aim', (q) => {
				if ((q.kind !== 'ray' && q.kind !== 'sweep') || !q.aim?.along) return;
				const of = q.aim.of;
				const m =
					of === undefined ? undefined : (world.objectById.get(of)?.rotation ?? world.cameras.get(of)?.rotation);
				const [a, b, c] = m ? unturned(m, ...dir) : dir;
				q.aim.along = [rounded(a), rounded(b), rounded(c)];
			});
		}
	};
	const pointer = (event: { clientX: number; clientY: number }) => {
		beginMove();
		const box = svg.current?.getBoundingClientRect();
		if (!box) return;
		moveTo((event.clientX - box.left) / scale, (event.clientY - box.top) / scale);
	};
	const latestPointer = useLatest(pointer);
	const [cx, cy] = [view.cursor[0] * scale, view.cursor[1] * scale];
	return (
		<figure className="flex flex-col" aria-label={`Eye: ${picture.title}`}>
			<figcaption className="flex h-6 items-center justify-between gap-2 border-b bg-panel px-2 text-[12px]">
				<span className="min-w-0 truncate" title={picture.title}>
					<span className="text-quiet">Eye · </span>
					{picture.title}
				</span>
				{mappable && (
					<button
						type="button"
						aria-pressed={mapped}
						title={
							drives === 'aim' ? 'What every direction would select' : 'What every place of the cursor would select'
						}
						className={`rounded-[2px] px-1.5 hover:bg-[var(--wash)] ${mapped ? 'font-semibold underline' : ''}`}
						onClick={() => setMapped(!mapped)}
					>
						Map
					</button>
				)}
				{mover && (
					<button
						type="button"
						aria-pressed={walking}
						className={`rounded-[2px] px-1.5 hover:bg-[var(--wash)] ${walking ? 'font-semibold underline' : ''}`}
						onClick={() => setWalking(!walking)}
						onBlur={() => setWalking(false)}
						onKeyDown={(event) => {
							if (!walking) return;
							const recipe = walkStep(mover, event, world, query);
							if (event.key === 'Escape') {
								event.preventDefault();
								setWalking(false);
							}
							if (!recipe) return;
							event.preventDefault();
							event.stopPropagation();
							store.getState().edit(`Walk ${mover.name}`, recipe);
						}}
					>
						{walking ? 'Walking: arrow keys' : 'Walk'}
					</button>
				)}
				{through !== null && (
					<button
						type="button"
						aria-label="Back to the query's own eye"
						title="Back to the query's own eye"
						className="grid size-6 place-items-center rounded-[2px] hover:bg-[var(--wash)]"
						onClick={() => store.getState().lookThrough(null)}
					>
						<X size={13} />
					</button>
				)}
				{place && (
					<span className="flex shrink-0">
						<button
							type="button"
							aria-label={`The eye is at the ${place.corner}: put it into another corner`}
							title="Into another corner"
							className="grid size-6 place-items-center rounded-[2px] hover:bg-[var(--wash)]"
							onClick={() => put({ ...place, corner: NEXT[place.corner] })}
						>
							<Move size={13} />
						</button>
						<button
							type="button"
							aria-label={`The eye is ${place.size === 'usual' ? 'of its usual size' : place.size}: another size`}
							title="Another size"
							className="grid size-6 place-items-center rounded-[2px] hover:bg-[var(--wash)]"
							onClick={() =>
								put({ ...place, size: place.size === 'usual' ? 'large' : place.size === 'large' ? 'small' : 'usual' })
							}
						>
							<Scaling size={13} />
						</button>
					</span>
				)}
				{drives === 'cursor' && (
					<span className="figure shrink-0 whitespace-nowrap text-quiet">
						{view.cursor[0].toFixed(0)}, {view.cursor[1].toFixed(0)} px
					</span>
				)}
			</figcaption>
			<div className="relative">
				{mappable && mapped && query && (
					<Part what="The map" load={loadMap} give={{ query, world, view, w, h, clip: mapClip }} />
				)}
				{/* biome-ignore lint/a11y/useSemanticElements: a fieldset cannot hold a drawing */}
				<svg
					ref={svg}
					role="group"
					aria-label={`Picture from ${picture.title}`}
					width={w}
					height={h}
					className={`relative block ${drives ? 'cursor-crosshair touch-none' : ''}`}
					onPointerDown={(event) => {
						if (!drives || event.button !== 0) return;
						store.getState().beginGesture(drives === 'cursor' ? 'Move the cursor' : 'Turn the aim');
						beginDrag(event, {
							move: (move) => latestPointer.current(move),
							end: () => store.getState().endGesture(),
							cancel: () => store.getState().cancelGesture(),
						});
						pointer(event);
					}}
				>
					<Marks view={view} scale={scale} />
					{drives === 'cursor' && query?.kind === 'pick' && query.assist?.by === 'pixels' && (
						<circle
							cx={cx}
							cy={cy}
							r={query.assist.within * scale}
							fill="none"
							stroke="var(--chosen)"
							strokeDasharray="2 3"
						/>
					)}
					{cursorFirm?.least && drives === 'cursor' && (
						<g stroke="var(--tie)" fill="none">
							<circle cx={cx} cy={cy} r={cursorFirm.least * scale} strokeDasharray="3 2" />
							<path
								d={`M${cx} ${cy}l${(cursorFirm.way[0] ?? 0) * cursorFirm.least * scale} ${(cursorFirm.way[1] ?? 0) * cursorFirm.least * scale}`}
								strokeWidth="2.5"
							/>
						</g>
					)}
					{/* biome-ignore lint/a11y/noStaticElementInteractions: a slider wherever it can be moved */}
					<g
						transform={`translate(${cx} ${cy})`}
						role={drives ? 'slider' : undefined}
						tabIndex={drives ? 0 : undefined}
						aria-label={drives === 'cursor' ? 'Cursor' : drives === 'aim' ? 'Aim' : undefined}
						aria-valuemin={drives ? 0 : undefined}
						aria-valuemax={drives ? view.width : undefined}
						aria-valuenow={drives ? Math.round(view.cursor[0]) : undefined}
						aria-valuetext={drives ? `${view.cursor[0].toFixed(1)}, ${view.cursor[1].toFixed(1)} px` : undefined}
						onKeyDown={(event) => {
							const step = event.shiftKey ? 10 : 1;
							const move = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[
								event.key
							];
							if (!move) return;
							event.preventDefault();
							event.stopPropagation();
							moveTo(view.cursor[0] + (move[0] ?? 0), view.cursor[1] + (move[1] ?? 0));
						}}
					>
						<circle r="9" fill="transparent" />
						<path d={CROSS} stroke="var(--panel)" strokeWidth="3.5" />
						<path d={CROSS} stroke="var(--ink)" strokeWidth="1.5" />
					</g>
					{prompt && (
						<g transform={`translate(${w / 2} ${cy > h - 52 ? 20 : h - 16})`}>
							<rect
								x={-(shownPrompt.length * 3.6 + 12)}
								y="-12"
								width={shownPrompt.length * 7.2 + 24}
								height="20"
								rx="3"
								fill="var(--panel)"
								stroke="var(--chosen)"
							/>
							<text textAnchor="middle" y="2.5" fontSize="12" fill="var(--ink)">
								{shownPrompt}
								<title>{prompt}</title>
							</text>
						</g>
					)}
					<title>{name}</title>
				</svg>
			</div>
		</figure>
	);
}
