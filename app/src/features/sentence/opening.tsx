/** How a sentence opens: where the query starts and what it sends out, by kind. */
import { metres, type Query } from '@frelk/core';
import { nameOf } from '../../model/names';
import { useBench, useDeferredBench } from '../../model/use-bench';
import { Button, Check, NumberField, Select } from '../../ui/controls';
import { VectorFields } from '../../ui/vector-fields';
import { AnchorEditor } from './editors/anchor';
import { ArcEditor, throwIt } from './editors/arc';
import { CameraEditor } from './editors/camera';
import { DirectionEditor } from './editors/direction';
import { ShapeEditor } from './editors/shape';
import { AskerEditor, type Change, Joint, partFields, Token } from './parts';
import { anchorWords, directionWords, shapeWords, throwWords, windowsWords } from './words';

export function Opening({ query, change }: { query: Query; change: Change }) {
	const project = useDeferredBench((s) => s.project);
	switch (query.kind) {
		case 'pick':
			return (
				<>
					<Through query={query} change={change} /> at
					<Token
						part="Cursor"
						text={`${(query.cursor ?? query.viewport.map((v) => v / 2)).map((v) => Math.round(v)).join(', ')} px`}
					>
						<PixelFields query={query} change={change} />
					</Token>
					{query.length !== undefined && <LengthToken query={query} change={change} />}
				</>
			);
		case 'ray':
		case 'sweep':
			return (
				<>
					{query.kind === 'sweep' && (
						<>
							{query.arc ? 'Throw' : 'Move'} a<ShapeToken query={query} change={change} />
						</>
					)}
					{query.kind === 'sweep' ? 'from' : query.arc ? 'Throw from' : 'From'}
					<Token part="From" text={anchorWords(project, query.from)}>
						<AnchorEditor
							label="From"
							anchor={query.from}
							self={query.id}
							onChange={(from) =>
								change('From', (q) => (q.kind === 'ray' || q.kind === 'sweep') && void (q.from = from))
							}
						/>
					</Token>
					{query.arc ? (
						<Token part="Throw" text={throwWords(project, query.arc, query.aim)}>
							<ThrowEditor query={query} change={change} />
						</Token>
					) : (
						<>
							{query.to ? 'to' : ''}
							<Token
								part={query.to ? 'To' : 'Direction'}
								text={query.to ? anchorWords(project, query.to) : directionWords(project, query.aim)}
							>
								<AimEditor query={query} change={change} />
							</Token>
							{!query.to && <LengthToken query={query} change={change} />}
						</>
					)}
				</>
			);
		case 'overlap':
			return (
				<>
					Within a<ShapeToken query={query} change={change} /> at
					<Token part="At" text={anchorWords(project, query.at)}>
						<AnchorEditor
							label="At"
							anchor={query.at}
							self={query.id}
							onChange={(at) => change('At', (q) => q.kind === 'overlap' && void (q.at = at))}
						/>
						<p className="mt-2 text-quiet">its middle moved by (m)</p>
						<VectorFields
							label="Volume offset"
							value={query.offset ?? [0, 0, 0]}
							onChange={(offset) => change('Offset', (q) => q.kind === 'overlap' && void (q.offset = offset))}
						/>
						<Check
							label="Turns with what it is at"
							checked={query.turns ?? true}
							onChange={(on) => change('Turns', (q) => q.kind === 'overlap' && void (q.turns = on))}
						/>
					</Token>
				</>
			);
		case 'hitbox':
			return (
				<>
					In the swing of
					<Token part="Asker" text={nameOf(project, 'object', query.asker)}>
						<AskerEditor query={query} change={change} />
					</Token>
					<Joint>,</Joint> {query.boxes.length === 1 ? 'one box' : `${query.boxes.length} boxes`} open
					<Token part="Boxes" wide text={windowsWords(query.boxes)}>
						<BoxesEditor query={query} change={change} />
					</Token>
				</>
			);
	}
}

const Through = partFields(['camera'], ({ query, change }) => {
	const cameras = useDeferredBench((s) => s.project.scene.cameras);
	if (query.kind !== 'pick') return null;
	return (
		<>
			Through
			<Token part="Camera" text={cameras.find((c) => c.id === query.camera)?.name ?? query.camera}>
				<Select
					label="Camera"
					value={query.camera}
					options={cameras.map((c) => ({ value: c.id, label: c.name ?? c.id }))}
					onChange={(v) => change('Camera', (q) => q.kind === 'pick' && void (q.camera = v))}
					className="w-full"
				/>
				<CameraEditor id={query.camera} />
			</Token>
		</>
	);
});

function PixelFields({ query, change }: { query: Extract<Query, { kind: 'pick' }>; change: Change }) {
	const cursor = query.cursor ?? [query.viewport[0] / 2, query.viewport[1] / 2];
	const set = (k: 0 | 1, v: number) =>
		change('Cursor', (q) => {
			if (q.kind !== 'pick') return;
			const next: [number, number] = [cursor[0], cursor[1]];
			next[k] = v;
			q.cursor = next;
		});
	return (
		<div className="grid grid-cols-2 gap-2">
			<NumberField label="across" unit="px" step={1} value={cursor[0]} onChange={(v) => set(0, v)} />
			<NumberField label="down" unit="px" step={1} value={cursor[1]} onChange={(v) => set(1, v)} />
			{(['width', 'height'] as const).map((label, k) => (
				<NumberField
					key={label}
					label={label}
					unit="px"
					step={1}
					min={1}
					value={query.viewport[k as 0]}
					onChange={(v) =>
						change(
							'Viewport',
							(q) => q.kind === 'pick' && void (q.viewport = k === 0 ? [v, q.viewport[1]] : [q.viewport[0], v]),
						)
					}
				/>
			))}
		</div>
	);
}

function LengthToken({ query, change }: { query: Query; change: Change }) {
	if (query.kind === 'overlap' || query.kind === 'hitbox') return null;
	const length = query.length ?? 1000;
	return (
		<>
			<Joint>, up to</Joint>
			<Token part="Length" text={metres(length)}>
				<NumberField
					first
					label="Length"
					unit="m"
					min={0}
					value={length}
					step={0.5}
					onChange={(v) =>
						change(
							'Length',
							(q) => (q.kind === 'ray' || q.kind === 'sweep' || q.kind === 'pick') && void (q.length = v),
						)
					}
				/>
			</Token>
		</>
	);
}

function AimEditor({ query, change }: { query: Extract<Query, { kind: 'ray' | 'sweep' }>; change: Change }) {
	const ends = query.to !== undefined;
	return (
		<div>
			<Button onClick={() => change('Throw it', (q) => throwIt(q))}>Throw it instead</Button>
			<Check
				label="Ends at a place"
				checked={ends}
				onChange={(on) =>
					change('Direction', (q) => {
						if (q.kind !== 'ray' && q.kind !== 'sweep') return;
						if (on) {
							delete q.aim;
							delete q.length;
							q.to = { point: [0, 0, 0] };
						} else {
							delete q.to;
							q.aim = { along: [0, 0, -1] };
						}
					})
				}
			/>
			{query.to ? (
				<AnchorEditor
					label="To"
					anchor={query.to}
					self={query.id}
					onChange={(to) => change('To', (q) => (q.kind === 'ray' || q.kind === 'sweep') && void (q.to = to))}
				/>
			) : (
				<DirectionEditor
					direction={query.aim ?? { along: [0, 0, -1] }}
					self={query.id}
					onChange={(aim) => change('Direction', (q) => (q.kind === 'ray' || q.kind === 'sweep') && void (q.aim = aim))}
				/>
			)}
		</div>
	);
}

function ThrowEditor({ query, change }: { query: Extract<Query, { kind: 'ray' | 'sweep' }>; change: Change }) {
	if (!query.arc) return null;
	return (
		<>
			<ArcEditor query={query} arc={query.arc} change={(recipe) => change('Throw', recipe)} />
			<Button
				className="mt-2"
				onClick={() =>
					change('Go straight', (q) => {
						if ((q.kind !== 'ray' && q.kind !== 'sweep') || !q.arc) return;
						const { at } = q.arc;
						delete q.arc;
						if (at) q.to = at;
					})
				}
			>
				Go straight instead
			</Button>
		</>
	);
}

function ShapeToken({ query, change }: { query: Extract<Query, { kind: 'sweep' | 'overlap' }>; change: Change }) {
	const project = useDeferredBench((s) => s.project);
	const { shape } = query;
	const text =
		'like' in shape
			? `copy of ${nameOf(project, 'object', shape.like)}${shape.grow ? ` grown by ${metres(shape.grow)}` : ''}`
			: shapeWords(shape as Parameters<typeof shapeWords>[0]);
	return (
		<Token part="Shape" text={text}>
			<ShapeEditor
				label="Shape"
				shape={shape}
				swept={query.kind === 'sweep'}
				like={query.kind === 'overlap'}
				onChange={(next) =>
					change(
						'Shape',
						(q) => (q.kind === 'sweep' || q.kind === 'overlap') && void (q.shape = next as typeof q.shape),
					)
				}
			/>
			<p className="mt-2 text-quiet">turned by (°)</p>
			<Turned
				flat={project.scene.kind === 'flat'}
				rotation={query.rotation}
				onChange={(rotation) =>
					change(
						'Turn of the shape',
						(q) => (q.kind === 'sweep' || q.kind === 'overlap') && void (q.rotation = rotation),
					)
				}
			/>
		</Token>
	);
}

function Turned({
	flat,
	rotation,
	onChange,
}: {
	flat: boolean;
	rotation: readonly [number, number, number] | undefined;
	onChange: (rotation: [number, number, number]) => void;
}) {
	const value = rotation ?? [0, 0, 0];
	if (flat)
		return <NumberField label="Turn" unit="°" step={5} value={value[2]} onChange={(v) => onChange([0, 0, v])} />;
	return <VectorFields label="Turn" step={5} value={value} onChange={onChange} />;
}

function BoxesEditor({ query, change }: { query: Extract<Query, { kind: 'hitbox' }>; change: Change }) {
	const flat = useBench((s) => s.project.scene.kind === 'flat');
	const edit = (i: number, recipe: (box: (typeof query.boxes)[number]) => void) =>
		change('Box', (q) => {
			const box = q.kind === 'hitbox' ? q.boxes[i] : undefined;
			if (box) recipe(box);
		});
	return (
		<>
			<ol className="space-y-3">
				{query.boxes.map((box, i) => (
					// biome-ignore lint/suspicious/noArrayIndexKey: boxes have no name but their place
					<li key={i} className="border-l-2 pl-2">
						<p className="flex items-center">
							<span className="flex-1">
								<span className="figure text-quiet">{i}</span>{' '}
								{shapeWords(box.shape as Parameters<typeof shapeWords>[0])}
							</span>
							<Button
								quiet
								disabled={query.boxes.length === 1}
								aria-label={`Remove box ${i}`}
								onClick={() => change('Box', (q) => q.kind === 'hitbox' && void q.boxes.splice(i, 1))}
							>
								Remove
							</Button>
						</p>
						<ShapeEditor
							label={`Box ${i}`}
							shape={box.shape}
							onChange={(shape) => edit(i, (b) => !('like' in shape) && void (b.shape = shape))}
						/>
						<p className="text-quiet">at (m), turned by (°)</p>
						<VectorFields
							label={`Box ${i} at`}
							value={box.at ?? [0, 0, 0]}
							onChange={(at) => edit(i, (b) => void (b.at = flat ? [at[0], at[1], 0] : at))}
						/>
						<Turned
							flat={flat}
							rotation={box.rotation}
							onChange={(rotation) => edit(i, (b) => void (b.rotation = rotation))}
						/>
						<span className="mt-1 flex gap-2">
							<NumberField
								label="from"
								unit="s"
								min={0}
								step={0.05}
								value={box.from ?? 0}
								onChange={(from) => edit(i, (b) => void (b.from = from))}
							/>
							<NumberField
								label="until"
								unit="s"
								min={0}
								step={0.05}
								value={box.until}
								placeholder="end"
								onChange={(until) => edit(i, (b) => void (b.until = until))}
							/>
							{box.until !== undefined && (
								<Button quiet aria-label={`Box ${i} stays open`} onClick={() => edit(i, (b) => void delete b.until)}>
									to the end
								</Button>
							)}
						</span>
					</li>
				))}
			</ol>
			<Button
				className="mt-2"
				onClick={() =>
					change(
						'Box',
						(q) =>
							q.kind === 'hitbox' &&
							void q.boxes.push({
								shape: flat ? { kind: 'rect', size: [1, 1] } : { kind: 'box', size: [1, 1, 1] },
								at: flat ? [0.8, 0, 0] : [0, 1, -0.8],
							}),
					)
				}
			>
				Add a box
			</Button>
			<Check
				label="Each object once a swing"
				checked={query.once ?? true}
				onChange={(on) =>
					change('Once a swing', (q) => q.kind === 'hitbox' && (on ? void delete q.once : void (q.once = false)))
				}
			/>
		</>
	);
}
