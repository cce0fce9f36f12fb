/** The stage's bar: how it is looked at, what is added next, what tints mean. */
import type { World } from '@frelk/core';
import { Box, Footprints, Grid3x3, LandPlot, Plus, Repeat } from 'lucide-react';
import { memo, useMemo } from 'react';
import { tintKey } from '../../drawing/hues';
import type { Pose, StageMode } from '../../drawing/view';
import type { Tint } from '../../model/bench-state';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button, Popover, Select } from '../../ui/controls';
import { useTheme } from '../../ui/theme';
import { addReadyMade, dropShape, newCamera } from '../edit/acts';
import { FLAT_SHAPES, SPACE_SHAPES } from '../edit/objects';
import { forgetReadyMade, ownReadyMades, READY_MADES } from '../edit/ready-mades';

const MODES: { mode: StageMode; label: string; flat: string }[] = [
	{ mode: 'free', label: 'Free', flat: 'Tilted' },
	{ mode: 'plan', label: 'Plan', flat: 'Face on' },
	{ mode: 'side', label: 'Side', flat: 'Edge' },
];

const ABOUT: Record<string, string> = {
	box: 'a crate, a wall, a counter',
	sphere: 'a ball, a bell',
	capsule: 'a person, a rail',
	cylinder: 'a post, a drum',
	hull: 'a wedge; any convex points',
	mesh: 'a surface with no inside',
	rect: 'a card, a stub, a plank',
	circle: 'a coin, a reach',
	polygon: 'any convex outline',
};

/** A word beside its sign; where the stage is narrow the sign stands for it, so that the bar is one line. */
const Word = ({ children }: { children: string }) => <span className="max-[1240px]:hidden">{children}</span>;

/** While a query is dragged neither the world as built nor the pose changes: the bar then stays as it is. */
export const StageTools = memo(Tools);

function Tools({
	built,
	pose,
	setPose,
	showAll,
	showQuery,
	snapping,
	setSnapping,
	spread,
	setSpread,
	swap,
	swapped,
	looksOnly,
	grounded,
	setGrounded,
}: {
	built: World;
	pose: Pose;
	setPose: (pose: Pose) => void;
	showAll: () => void;
	showQuery: () => void;
	snapping: boolean;
	setSnapping: (on: boolean) => void;
	spread: number;
	setSpread: (spread: number) => void;
	swap: (() => void) | null;
	swapped: boolean;
	/** Nothing can be made or moved here. */
	looksOnly: boolean;
	/** Whether the floor map of the query lies over the ground; null where nobody asks. */
	grounded: boolean | null;
	setGrounded: (on: boolean) => void;
}) {
	const store = useBenchStore();
	const tool = useBench((s) => s.tool);
	const tint = useBench((s) => s.tint);
	const kept = useBench((s) => s.project.extras);
	const own = useMemo(() => ownReadyMades({ extras: kept }), [kept]);
	const theme = useTheme();
	const { flat } = built;
	const key = useMemo(() => (tint === 'layer' ? [] : tintKey(built, tint, theme === 'dark')), [built, tint, theme]);
	return (
		<>
			<div role="toolbar" aria-label="View" className="absolute top-2 left-2 flex flex-wrap items-center gap-1 pr-2">
				{MODES.map(({ mode, label, flat: flatLabel }) => (
					<Button
						key={mode}
						aria-pressed={pose.mode === mode}
						className={pose.mode === mode ? 'border-ink! font-semibold' : 'text-quiet'}
						onClick={() => setPose({ ...pose, mode, ...(mode === 'free' && flat ? { yaw: -18, pitch: 30 } : {}) })}
					>
						{flat ? flatLabel : label}
					</Button>
				))}
				<Button className="text-quiet" onClick={showAll}>
					Show all
				</Button>
				{!looksOnly && (
					<Button className="text-quiet" title="What the open query touches, and what came near" onClick={showQuery}>
						Show the query
					</Button>
				)}
				{!looksOnly && (
					<>
						<Popover
							label="Add to the scene"
							wide
							trigger={
								<Button className="ml-2">
									<Plus size={13} /> Add
								</Button>
							}
						>
							<p className="mb-1 text-quiet">Draw it on the stage, or press Drop to have it placed.</p>
							{!flat && <ReadyMadeList things={READY_MADES} />}
							<ReadyMadeList things={own.map((t) => ({ id: `own:${t.id}`, label: t.name, about: 'kept here' }))} own />
							<ul>
								{(flat ? FLAT_SHAPES : SPACE_SHAPES).map((shape) => (
									<li key={shape} className="flex items-center gap-1">
										<Button
											quiet
											data-chosen
											className="flex-1 justify-start gap-2"
											onClick={() => store.getState().use({ kind: 'shape', shape })}
										>
											<span className="font-semibold">{shape}</span>
											<span className="text-quiet">
												{flat && shape === 'capsule' ? 'a stick, a rope' : ABOUT[shape]}
											</span>
										</Button>
										<Button data-chosen aria-label={`Drop a ${shape}`} onClick={() => dropShape(store, shape)}>
											Drop
										</Button>
									</li>
								))}
								<li className="mt-1 border-t pt-1">
									<Button quiet data-chosen className="w-full justify-start gap-2" onClick={() => newCamera(store)}>
										<span className="font-semibold">camera</span>
										<span className="text-quiet">on what is in hand, or free</span>
									</Button>
								</li>
							</ul>
						</Popover>
						<Button
							aria-pressed={snapping}
							aria-label="Snap"
							title="To faces and to the grid"
							className={snapping ? 'border-ink!' : 'text-quiet'}
							onClick={() => setSnapping(!snapping)}
						>
							<Grid3x3 size={13} /> <Word>Snap</Word>
						</Button>
					</>
				)}
				<Select<Tint>
					label="Tint objects by"
					value={tint}
					options={[
						{ value: 'layer', label: 'tint by layer' },
						{ value: 'tag', label: 'tint by tag' },
						{ value: 'side', label: 'tint by side' },
						{ value: 'verdict', label: 'tint by verdict' },
					]}
					onChange={(by) => store.getState().tintBy(by)}
				/>
				{flat && pose.mode !== 'plan' && (
					<label className="flex items-center gap-1 rounded-[3px] border bg-panel px-2">
						<span>Apart</span>
						<input
							type="range"
							min="1"
							max="40"
							step="0.5"
							value={spread}
							className="w-24"
							onChange={(event) => setSpread(Number(event.target.value))}
						/>
						<span className="figure text-quiet">{spread}×</span>
					</label>
				)}
				{grounded !== null && !looksOnly && (
					<Button
						aria-pressed={grounded}
						aria-label="Floor map"
						title="What the open query would select from every place to stand"
						className={grounded ? 'border-ink!' : 'text-quiet'}
						onClick={() => setGrounded(!grounded)}
					>
						<LandPlot size={13} className="hidden max-[1240px]:block" /> <Word>Floor map</Word>
					</Button>
				)}
				{swap && (
					<Button
						aria-pressed={swapped}
						aria-label="Swap eye and stage"
						title="Swap eye and stage"
						className={swapped ? 'border-ink!' : 'text-quiet'}
						onClick={swap}
					>
						<Repeat size={13} /> <Word>Swap</Word>
					</Button>
				)}
			</div>
			{tint !== 'layer' && key.length > 0 && (
				<ul
					aria-label="What the tints mean"
					className="absolute top-10 left-2 rounded-[3px] border bg-panel/90 px-2 py-1"
				>
					{key.map((entry) => (
						<li key={entry.name} className="flex items-center gap-2">
							<span
								className="inline-block size-3 border border-ink/40"
								style={{ background: entry.colour }}
								aria-hidden="true"
							/>
							{entry.name}
						</li>
					))}
				</ul>
			)}
			{tool && (
				<p
					role="status"
					className="absolute bottom-3 left-3 flex items-center gap-2 rounded-[3px] border-2 border-ink bg-panel px-3 py-1"
				>
					{tool.kind === 'shape' || tool.kind === 'ready-made' ? <Box size={14} /> : <Footprints size={14} />}
					{HINTS[tool.kind === 'query' ? tool.query : tool.kind] ?? 'Press where it should stand.'}
					<Button onClick={() => store.getState().use(null)}>Leave it</Button>
				</p>
			)}
		</>
	);
}

/** Things ready to be placed, with a button that places one at once. */
function ReadyMadeList({
	things,
	own = false,
}: {
	things: readonly { id: string; label: string; about: string }[];
	own?: boolean;
}) {
	const store = useBenchStore();
	if (things.length === 0) return null;
	return (
		<ul aria-label={own ? 'Ready-mades of your own' : 'Ready-mades'} className="mb-1 border-b pb-1">
			{things.map(({ id, label, about }) => (
				<li key={id} className="flex items-center gap-1">
					<Button
						quiet
						data-chosen
						className="min-w-0 flex-1 justify-start gap-2"
						onClick={() => store.getState().use({ kind: 'ready-made', readyMade: id })}
					>
						<span className="font-semibold whitespace-nowrap">{label}</span>
						<span className="truncate text-quiet">{about}</span>
					</Button>
					{own && (
						<Button
							quiet
							aria-label={`Forget ${label}`}
							onClick={() =>
								store.getState().editPlain(`Forget ${label}`, (draft) => forgetReadyMade(draft, id.slice(4)))
							}
						>
							Forget
						</Button>
					)}
					<Button data-chosen aria-label={`Drop a ${label}`} onClick={() => addReadyMade(store, id)}>
						Drop
					</Button>
				</li>
			))}
		</ul>
	);
}

const HINTS: Record<string, string> = {
	shape:
		'Press and drag to draw it on what is there; press once for the usual size. Alt hangs it on a wall. Enter puts it in the middle.',
	thing: 'Press where it should stand, or draw it at its size. Alt hangs it on a wall. Enter puts it in the middle.',
	measure: 'Press from, then to: places, faces and focuses. Escape ends it.',
	ray: 'From here, along there: press where it starts (an object gives its focus), then where it points.',
	sweep: 'From here, along there: press where the shape starts, then where it goes.',
	pick: 'Press the place the cursor should point at.',
	overlap: 'Press the middle of the volume, then how far it reaches.',
	hitbox: 'Press who swings, then where the box should open.',
};
