/** The query in hand as a sentence: every variable part is a token one can click and change. Parts at their default are not spoken. */
import { degrees, metres, type Query, rulesOf } from '@frelk/core';
import { Plus } from 'lucide-react';
import { Button, Check, NumberField, Popover, Select } from '../../ui/controls';
import { editQuery, nameOf, useBench, useBenchStore, useQuery } from '../bench/store';
import { AnchorEditor, ChooseEditor, ConditionsEditor, DirectionEditor, LayersEditor, OutcomesEditor, TagsEditor, VectorFields } from './editors';
import { anchorWords, conditionsWords, directionWords, layersWords, listWords, rangeWords, ruleWords, shapeWords, tagsWords, viewWords } from './words';

function Token({ part, text, wide, children }: { part: string; text: string; wide?: boolean; children: React.ReactNode }) {
	return (
		<Popover
			label={part}
			{...(wide ? { wide } : {})}
			trigger={
				<button
					type="button"
					aria-label={`${part}: ${text}`}
					className="mx-1 inline rounded-[2px] border-b border-ink/50 bg-[var(--wash)] px-1 text-left font-semibold hover:border-ink"
				>
					{text}
				</button>
			}
		>
			<h2 className="mb-2 font-semibold">{part}</h2>
			{children}
		</Popover>
	);
}

/** Punctuation and what follows it, closed up to the token before. */
const Joint = ({ children }: { children: React.ReactNode }) => <span className="-ml-1">{children}</span>;

type Change = (label: string, recipe: (query: Query) => void) => void;

export function Sentence() {
	const query = useQuery();
	const store = useBenchStore();
	if (!query) return <p className="border-b bg-panel px-3 py-2 text-quiet">This project has no query yet. Add one on the left.</p>;
	const change: Change = (label, recipe) => editQuery(store, label, recipe);
	return (
		<section aria-label="Sentence" className="max-h-36 overflow-auto border-b bg-panel px-3 py-2 text-[14px] leading-7">
			<Opening query={query} change={change} />
			<Filters query={query} change={change} />
			<Limits query={query} change={change} />
			<Choosing query={query} change={change} />
			<Add query={query} change={change} />
		</section>
	);
}

function Opening({ query, change }: { query: Query; change: Change }) {
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

function Filters({ query, change }: { query: Query; change: Change }) {
	const project = useBench((s) => s.project);
	const selects = query.selects;
	const tags = tagsWords(query);
	return (
		<>
			<Joint>, find</Joint>
			<Token part="Layers to choose from" text={layersWords(project, selects?.layers)}>
				<LayersEditor layers={selects?.layers ?? 'all'} onChange={(layers) => change('Layers', (q) => void (q.selects = { ...q.selects, layers }))} />
			</Token>
			{selects?.tags !== undefined && (
				<>
					tagged
					<Token part="Tags" text={tags || 'anything'}>
						<TagsEditor query={query} onChange={(next) => change('Tags', (q) => void (q.selects = { ...q.selects, tags: next }))} />
						<Remove onClick={() => change('Tags', (q) => q.selects && void delete q.selects.tags)} />
					</Token>
				</>
			)}
			{selects?.when !== undefined && (
				<>
					where
					<Token part="Conditions" wide text={conditionsWords(query) || 'no condition'}>
						<ConditionsEditor query={query} onChange={(when) => change('Conditions', (q) => void (q.selects = { ...q.selects, when }))} />
						<Remove onClick={() => change('Conditions', (q) => q.selects && void delete q.selects.when)} />
					</Token>
				</>
			)}
			{selects?.stances !== undefined && (
				<>
					regarded as
					<Token part="Stances" text={listWords(selects.stances, 'or')}>
						<Choices
							options={['hostile', 'neutral', 'friendly']}
							chosen={selects.stances}
							onChange={(stances) => change('Stances', (q) => void (q.selects = { ...q.selects, stances }))}
						/>
						<Remove onClick={() => change('Stances', (q) => q.selects && void delete q.selects.stances)} />
					</Token>
				</>
			)}
			{selects?.roles !== undefined && (
				<>
					by their
					<Token part="Roles" text={`${listWords(selects.roles, 'or')} shapes`}>
						<Choices
							options={['solid', 'sensor']}
							chosen={selects.roles}
							onChange={(roles) => change('Roles', (q) => void (q.selects = { ...q.selects, roles }))}
						/>
						<Remove onClick={() => change('Roles', (q) => q.selects && void delete q.selects.roles)} />
					</Token>
				</>
			)}
		</>
	);
}

/** Ticks of which at least one stays. */
function Choices<T extends string>({ options, chosen, onChange }: { options: readonly T[]; chosen: readonly T[]; onChange: (chosen: T[]) => void }) {
	return options.map((option) => (
		<Check
			key={option}
			label={option}
			checked={chosen.includes(option)}
			onChange={(on) => {
				const next = options.filter((o) => (o === option ? on : chosen.includes(o)));
				if (next.length > 0) onChange(next);
			}}
		/>
	));
}

const Remove = ({ onClick }: { onClick: () => void }) => (
	<Button quiet className="mt-2 text-quiet" onClick={onClick}>
		Leave this part out
	</Button>
);

function Limits({ query, change }: { query: Query; change: Change }) {
	const project = useBench((s) => s.project);
	const { range, view, sight } = query;
	const blockers = sight?.blockers;
	const assist = query.kind === 'ray' || query.kind === 'pick' ? query.assist : undefined;
	return (
		<>
			{assist && (
				<>
					<Joint>, helped within</Joint>
					<Token
						part="Aim assist"
						text={assist.by === 'angle' ? degrees(assist.within) : assist.by === 'pixels' ? `${assist.within} px` : metres(assist.within)}
					>
						<Select
							label="Assist by"
							value={assist.by}
							options={(query.kind === 'pick' ? (['pixels', 'distance', 'angle'] as const) : (['angle', 'distance'] as const))
								.filter((by) => !(by === 'angle' && project.scene.kind === 'flat' && query.kind === 'pick'))
								.map((by) => ({ value: by, label: by }))}
							onChange={(by) => change('Assist', (q) => (q.kind === 'ray' || q.kind === 'pick') && q.assist && void (q.assist.by = by))}
							className="mb-2 w-full"
						/>
						<NumberField
							label="within"
							unit={assist.by === 'angle' ? '°' : assist.by === 'pixels' ? 'px' : 'm'}
							min={0}
							step={assist.by === 'distance' ? 0.05 : 1}
							value={assist.within}
							onChange={(within) => change('Assist', (q) => (q.kind === 'ray' || q.kind === 'pick') && q.assist && void (q.assist.within = within))}
						/>
						<Remove onClick={() => change('Assist', (q) => (q.kind === 'ray' || q.kind === 'pick') && void delete q.assist)} />
					</Token>
				</>
			)}
			{range && (
				<>
					<Joint>, within</Joint>
					<Token part="Range" text={rangeWords(project, query)}>
						<RangeEditor query={query} change={change} />
					</Token>
				</>
			)}
			{view && (
				<>
					<Joint>, inside</Joint>
					<Token part="View" text={viewWords(project, query)}>
						<NumberField
							label="half-angle"
							unit="°"
							min={0}
							step={5}
							value={view.within}
							onChange={(within) => change('View', (q) => q.view && void (q.view.within = within))}
						/>
						{project.scene.kind === 'space' && (
							<Check label="Leave height out" checked={view.flat ?? false} onChange={(on) => change('View', (q) => q.view && void (q.view.flat = on))} />
						)}
						<Check
							label="About another direction"
							checked={view.about !== undefined}
							onChange={(on) => change('View', (q) => q.view && (on ? void (q.view.about = { along: [0, 0, -1] }) : void delete q.view.about))}
						/>
						{view.about && (
							<DirectionEditor direction={view.about} self={query.id} onChange={(about) => change('View', (q) => q.view && void (q.view.about = about))} />
						)}
						<Remove onClick={() => change('View', (q) => void delete q.view)} />
					</Token>
				</>
			)}
			{query.approach === 'ignore' && (
				<>
					,{' '}
					<Token part="Approach" text="from any side">
						<Remove onClick={() => change('Approach', (q) => void delete q.approach)} />
					</Token>
				</>
			)}
			{blockers !== undefined && (
				<>
					<Joint>, stopped by</Joint>
					<Token part="Layers that stop it" text={blockers.length === 0 ? 'nothing' : blockers === 'all' ? 'everything' : layersWords(project, blockers)}>
						<LayersEditor none layers={blockers} onChange={(next) => change('Blockers', (q) => void (q.sight = { ...q.sight, blockers: next }))} />
						<hr className="my-2" />
						<Check
							label="Sensors stop it too"
							checked={sight?.sensors ?? false}
							onChange={(on) => change('Blockers', (q) => q.sight && void (q.sight.sensors = on))}
						/>
						<Remove onClick={() => change('Blockers', (q) => void delete q.sight)} />
					</Token>
				</>
			)}
			{query.startInside === 'count' && (
				<>
					,{' '}
					<Token part="Start inside" text="counting what it starts in">
						<Remove onClick={() => change('Start inside', (q) => void delete q.startInside)} />
					</Token>
				</>
			)}
		</>
	);
}

function RangeEditor({ query, change }: { query: Query; change: Change }) {
	const flat = useBench((s) => s.project.scene.kind === 'flat');
	const { range } = query;
	if (!range) return null;
	const set = (recipe: (range: NonNullable<Query['range']>) => void) => change('Range', (q) => q.range && recipe(q.range));
	return (
		<div className="space-y-2">
			<div className="grid grid-cols-2 gap-2">
				<NumberField label="min" unit="m" min={0} value={range.min} placeholder="0" onChange={(v) => set((r) => void (r.min = v))} />
				<NumberField label="max" unit="m" min={0} value={range.max} placeholder="any" onChange={(v) => set((r) => void (r.max = v))} />
			</div>
			<Select
				label="Measured to"
				value={range.to ?? 'contact'}
				options={[
					{ value: 'contact', label: 'to the contact' },
					{ value: 'focus', label: 'to the focus' },
				]}
				onChange={(to) => set((r) => void (r.to = to))}
				className="w-full"
			/>
			{!flat && <Check label="Leave height out" checked={range.flat ?? false} onChange={(on) => set((r) => void (r.flat = on))} />}
			<Check
				label="Measured from another place"
				checked={range.from !== undefined}
				onChange={(on) => set((r) => (on ? void (r.from = { point: [0, 0, 0] }) : void delete r.from))}
			/>
			{range.from && <AnchorEditor label="Measured from" anchor={range.from} self={query.id} onChange={(from) => set((r) => void (r.from = from))} />}
			<Remove onClick={() => change('Range', (q) => void delete q.range)} />
		</div>
	);
}

function Choosing({ query, change }: { query: Query; change: Change }) {
	const rules = rulesOf(query);
	const take = query.choose?.take ?? (query.kind === 'hitbox' ? 'all' : 1);
	const order = rules.map(ruleWords).join(', then ');
	const text = take === 'all' ? `all, ${order} first` : take === 1 ? `the ${order}` : `up to ${take}, ${order}`;
	return (
		<>
			<Joint>; of several take</Joint>
			<Token part="Choice" wide text={text}>
				<ChooseEditor query={query} rules={rules} onChange={(choose) => change('Choice', (q) => void (q.choose = choose))} />
			</Token>
			{query.asker !== undefined && query.kind !== 'hitbox' && <AskedBy query={query} change={change} />}
			{query.ignore !== undefined && <Ignoring query={query} change={change} />}
			{query.outcomes !== undefined && (
				<>
					<Joint>; with</Joint>
					<Token part="Outcomes" wide text={`${query.outcomes.length} ${query.outcomes.length === 1 ? 'outcome' : 'outcomes'} by tag`}>
						<OutcomesEditor outcomes={query.outcomes} onChange={(outcomes) => change('Outcomes', (q) => void (q.outcomes = outcomes))} />
						<Remove onClick={() => change('Outcomes', (q) => void delete q.outcomes)} />
					</Token>
				</>
			)}
			<Joint>.</Joint>
		</>
	);
}

function AskedBy({ query, change }: { query: Query; change: Change }) {
	const project = useBench((s) => s.project);
	return (
		<>
			<Joint>, asked by</Joint>
			<Token part="Asker" text={nameOf(project, 'object', query.asker ?? '')}>
				<AskerEditor query={query} change={change} />
				<Remove onClick={() => change('Asker', (q) => q.kind !== 'hitbox' && void delete q.asker)} />
			</Token>
		</>
	);
}

function AskerEditor({ query, change }: { query: Query; change: Change }) {
	const objects = useBench((s) => s.project.scene.objects);
	return (
		<Select
			label="Asker"
			value={query.asker ?? ''}
			options={objects.map((o) => ({ value: o.id, label: o.name ?? o.id }))}
			onChange={(asker) => change('Asker', (q) => void (q.asker = asker))}
			className="w-full"
		/>
	);
}

function Ignoring({ query, change }: { query: Query; change: Change }) {
	const project = useBench((s) => s.project);
	const ignore = query.ignore ?? [];
	return (
		<>
			<Joint>, ignoring</Joint>
			<Token
				part="Ignored"
				text={
					ignore.length === 0
						? 'nothing'
						: listWords(
								ignore.map((id) => nameOf(project, 'object', id)),
								'and',
							)
				}
			>
				<div className="max-h-60 overflow-auto">
					{project.scene.objects.map((o) => (
						<Check
							key={o.id}
							label={o.name ?? o.id}
							checked={ignore.includes(o.id)}
							onChange={(on) => change('Ignored', (q) => void (q.ignore = on ? [...(q.ignore ?? []), o.id] : (q.ignore ?? []).filter((id) => id !== o.id)))}
						/>
					))}
				</div>
				<Remove onClick={() => change('Ignored', (q) => void delete q.ignore)} />
			</Token>
		</>
	);
}

/** What can still be said. */
function Add({ query, change }: { query: Query; change: Change }) {
	const project = useBench((s) => s.project);
	const flatPick = project.scene.kind === 'flat' && query.kind === 'pick';
	const firstObject = project.scene.objects[0]?.id;
	const parts: { label: string; when: boolean; add: (q: Query) => void }[] = [
		{ label: 'tags', when: query.selects?.tags === undefined, add: (q) => void (q.selects = { ...q.selects, tags: { any: [] } }) },
		{ label: 'conditions on states', when: query.selects?.when === undefined, add: (q) => void (q.selects = { ...q.selects, when: [] }) },
		{ label: 'a range', when: query.range === undefined, add: (q) => void (q.range = { max: 4 }) },
		{
			label: 'a view cone',
			when: query.view === undefined && !flatPick,
			add: (q) =>
				void (q.view = { within: 60, ...(q.asker === undefined && (q.kind === 'overlap' || q.kind === 'hitbox') ? { about: { along: [0, 0, -1] } } : {}) }),
		},
		{ label: 'what stops it', when: query.sight?.blockers === undefined, add: (q) => void (q.sight = { ...q.sight, blockers: [] }) },
		{
			label: 'aim assist',
			when: (query.kind === 'ray' || query.kind === 'pick') && query.assist === undefined,
			add: (q) => (q.kind === 'ray' || q.kind === 'pick') && void (q.assist = q.kind === 'pick' ? { by: 'pixels', within: 20 } : { by: 'angle', within: 3 }),
		},
		{ label: 'stances', when: query.selects?.stances === undefined, add: (q) => void (q.selects = { ...q.selects, stances: ['hostile'] }) },
		{ label: 'roles', when: query.selects?.roles === undefined, add: (q) => void (q.selects = { ...q.selects, roles: ['solid'] }) },
		{ label: 'outcomes by tag', when: query.outcomes === undefined, add: (q) => void (q.outcomes = []) },
		{ label: 'an asker', when: query.asker === undefined && firstObject !== undefined, add: (q) => void (q.asker = firstObject) },
		{ label: 'ignored objects', when: query.ignore === undefined, add: (q) => void (q.ignore = []) },
		{ label: 'approach from any side', when: query.approach !== 'ignore', add: (q) => void (q.approach = 'ignore') },
		{ label: 'what it starts in', when: query.startInside !== 'count', add: (q) => void (q.startInside = 'count') },
	];
	return (
		<Popover
			label="Say more"
			trigger={
				<button
					type="button"
					aria-label="Say more"
					className="ml-1 inline-flex size-5 items-center justify-center rounded-[2px] align-middle text-quiet hover:bg-[var(--wash)]"
				>
					<Plus size={14} />
				</button>
			}
		>
			<ul>
				{parts
					.filter((p) => p.when)
					.map((p) => (
						<li key={p.label}>
							<Button quiet className="w-full justify-start" onClick={() => change(`Add ${p.label}`, p.add)}>
								{p.label}
							</Button>
						</li>
					))}
			</ul>
		</Popover>
	);
}
