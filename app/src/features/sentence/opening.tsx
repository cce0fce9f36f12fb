/** How a sentence opens: where the query starts and what it sends out, by kind. */
import { metres, type Query } from '@frelk/core';
import { Check, NumberField, Select } from '../../ui/controls';
import { nameOf, useBench } from '../bench/store';
import { AnchorEditor, DirectionEditor, VectorFields } from './editors';
import { AskerEditor, type Change, Joint, Token } from './parts';
import { anchorWords, directionWords, shapeWords } from './words';

export function Opening({ query, change }: { query: Query; change: Change }) {
	const project = useBench((s) => s.project);
	const cameras = project.scene.cameras.map((c) => ({ value: c.id, label: c.name ?? c.id }));
	switch (query.kind) {
		case 'pick':
			return (
				<>
					Through
					<Token part="Camera" text={nameOf(project, 'camera', query.camera)}>
						<Select
							label="Camera"
							value={query.camera}
							options={cameras}
							onChange={(v) => change('Camera', (q) => q.kind === 'pick' && void (q.camera = v))}
							className="w-full"
						/>
					</Token>
					at
					<Token part="Cursor" text={`${(query.cursor ?? query.viewport.map((v) => v / 2)).map((v) => Math.round(v)).join(', ')} px`}>
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
							Move a<ShapeToken query={query} change={change} />
						</>
					)}
					{query.kind === 'ray' ? 'From' : 'from'}
					<Token part="From" text={anchorWords(project, query.from)}>
						<AnchorEditor
							label="From"
							anchor={query.from}
							self={query.id}
							onChange={(from) => change('From', (q) => (q.kind === 'ray' || q.kind === 'sweep') && void (q.from = from))}
						/>
					</Token>
					{query.to ? 'to' : ''}
					<Token part={query.to ? 'To' : 'Direction'} text={query.to ? anchorWords(project, query.to) : directionWords(project, query.aim)}>
						<AimEditor query={query} change={change} />
					</Token>
					{!query.to && <LengthToken query={query} change={change} />}
				</>
			);
		case 'overlap':
			return (
				<>
					Within a<ShapeToken query={query} change={change} />
					at
					<Token part="At" text={anchorWords(project, query.at)}>
						<AnchorEditor label="At" anchor={query.at} self={query.id} onChange={(at) => change('At', (q) => q.kind === 'overlap' && void (q.at = at))} />
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
					<Token part="Boxes" wide text={`${metresless(Math.min(...query.boxes.map((b) => b.from ?? 0)))} to ${untilWords(query)} s`}>
						<BoxesEditor query={query} change={change} />
					</Token>
				</>
			);
	}
}

const metresless = (v: number) => String(Number(v.toFixed(2)));
const untilWords = (query: Extract<Query, { kind: 'hitbox' }>): string => {
	const until = Math.max(...query.boxes.map((b) => b.until ?? Infinity));
	return until === Infinity ? 'the end,' : metresless(until);
};

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
					onChange={(v) => change('Viewport', (q) => q.kind === 'pick' && void (q.viewport[k as 0] = v))}
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
					label="Length"
					unit="m"
					min={0}
					value={length}
					step={0.5}
					onChange={(v) => change('Length', (q) => (q.kind === 'ray' || q.kind === 'sweep' || q.kind === 'pick') && void (q.length = v))}
				/>
			</Token>
		</>
	);
}

function AimEditor({ query, change }: { query: Extract<Query, { kind: 'ray' | 'sweep' }>; change: Change }) {
	const ends = query.to !== undefined;
	return (
		<div>
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

function ShapeToken({ query, change }: { query: Extract<Query, { kind: 'sweep' | 'overlap' }>; change: Change }) {
	const project = useBench((s) => s.project);
	const { shape } = query;
	if ('like' in shape) {
		return (
			<Token part="Volume" text={`copy of ${nameOf(project, 'object', shape.like)}${shape.grow ? ` grown by ${metres(shape.grow)}` : ''}`}>
				<Select
					label="Like"
					value={shape.like}
					options={project.scene.objects.map((o) => ({ value: o.id, label: o.name ?? o.id }))}
					onChange={(like) => change('Volume', (q) => q.kind === 'overlap' && 'like' in q.shape && void (q.shape.like = like))}
					className="mb-2 w-full"
				/>
				<NumberField
					label="grown by"
					unit="m"
					min={0}
					step={0.01}
					value={shape.grow ?? 0}
					onChange={(grow) => change('Volume', (q) => q.kind === 'overlap' && 'like' in q.shape && void (q.shape.grow = grow))}
				/>
			</Token>
		);
	}
	const flat = project.scene.kind === 'flat';
	const kinds = flat ? ['circle', 'rect', 'capsule'] : query.kind === 'sweep' ? ['sphere', 'box', 'capsule'] : ['sphere', 'box', 'capsule', 'cylinder'];
	const set = (next: Record<string, unknown>) => change('Shape', (q) => (q.kind === 'sweep' || q.kind === 'overlap') && void (q.shape = next as typeof shape));
	const fresh: Record<string, Record<string, unknown>> = {
		sphere: { kind: 'sphere', radius: 0.5 },
		circle: { kind: 'circle', radius: 0.5 },
		box: { kind: 'box', size: [1, 1, 1] },
		rect: { kind: 'rect', size: [1, 1] },
		capsule: { kind: 'capsule', radius: 0.3, height: 1.2 },
		cylinder: { kind: 'cylinder', radius: 0.5, height: 1 },
	};
	return (
		<Token part="Shape" text={shapeWords(shape as Parameters<typeof shapeWords>[0])}>
			<Select
				label="Shape kind"
				value={shape.kind}
				options={kinds.map((k) => ({ value: k, label: k }))}
				onChange={(kind) => set(fresh[kind] ?? {})}
				className="mb-2 w-full"
			/>
			{'size' in shape &&
				shape.size.map((v, k) => (
					<NumberField
						// biome-ignore lint/suspicious/noArrayIndexKey: the sizes are told apart by their place
						key={k}
						label={['width', 'height', 'depth'][k] as string}
						unit="m"
						min={0.001}
						value={v}
						onChange={(n) => set({ ...shape, size: shape.size.map((s, i) => (i === k ? n : s)) })}
					/>
				))}
			{'radius' in shape && (
				<NumberField label="radius" unit="m" min={0.001} step={0.05} value={shape.radius} onChange={(radius) => set({ ...shape, radius })} />
			)}
			{'height' in shape && <NumberField label="height" unit="m" min={0.001} value={shape.height} onChange={(height) => set({ ...shape, height })} />}
		</Token>
	);
}

function BoxesEditor({ query, change }: { query: Extract<Query, { kind: 'hitbox' }>; change: Change }) {
	return (
		<ol className="space-y-2">
			{query.boxes.map((box, i) => (
				// biome-ignore lint/suspicious/noArrayIndexKey: boxes have no name but their place
				<li key={i} className="border-l-2 pl-2">
					<p>
						<span className="figure text-quiet">{i}</span> {shapeWords(box.shape as Parameters<typeof shapeWords>[0])}
					</p>
					<VectorFields
						label={`Box ${i} at`}
						value={box.at ?? [0, 0, 0]}
						onChange={(at) => change('Box', (q) => q.kind === 'hitbox' && q.boxes[i] && void (q.boxes[i].at = at))}
					/>
					<span className="mt-1 flex gap-2">
						<NumberField
							label="from"
							unit="s"
							min={0}
							step={0.05}
							value={box.from ?? 0}
							onChange={(from) => change('Box', (q) => q.kind === 'hitbox' && q.boxes[i] && void (q.boxes[i].from = from))}
						/>
						<NumberField
							label="until"
							unit="s"
							min={0}
							step={0.05}
							value={box.until}
							placeholder="end"
							onChange={(until) => change('Box', (q) => q.kind === 'hitbox' && q.boxes[i] && void (q.boxes[i].until = until))}
						/>
					</span>
				</li>
			))}
		</ol>
	);
}
