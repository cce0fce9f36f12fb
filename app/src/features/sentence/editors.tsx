/** Editors behind the tokens of the sentence: each changes one part of the query, and the answers follow at once. */
import type { Anchor, Condition, Direction, Query, Rule, RuleName } from '@frelk/core';
import { ArrowDown, ArrowUp, Plus, X } from 'lucide-react';
import { Button, Check, NumberField, Select, TextField } from '../../ui/controls';
import { useBench } from '../bench/store';

const Row = ({ children }: { children: React.ReactNode }) => <div className="mb-2 flex flex-wrap items-center gap-2">{children}</div>;

export function VectorFields({
	label,
	value,
	onChange,
	step = 0.1,
}: {
	label: string;
	value: readonly [number, number, number];
	onChange: (v: [number, number, number]) => void;
	step?: number;
}) {
	return (
		<span className="grid grid-cols-[repeat(3,minmax(0,1fr))] gap-1">
			{['X', 'Y', 'Z'].map((axis, k) => (
				<NumberField
					key={axis}
					hideLabel
					label={`${label} ${axis}`}
					value={value[k]}
					step={step}
					onChange={(v) => {
						const out: [number, number, number] = [...value];
						out[k as 0] = v;
						onChange(out);
					}}
				/>
			))}
		</span>
	);
}

type AnchorKind = 'object' | 'focus' | 'camera' | 'point' | 'hitOf';

const ANCHOR_KINDS: { value: AnchorKind; label: string }[] = [
	{ value: 'object', label: 'an object' },
	{ value: 'focus', label: 'the focus of an object' },
	{ value: 'camera', label: 'a camera' },
	{ value: 'point', label: 'a point' },
	{ value: 'hitOf', label: 'the hit of a query' },
];

const anchorKind = (a: Anchor): AnchorKind =>
	a.point ? 'point' : a.focus !== undefined ? 'focus' : a.camera !== undefined ? 'camera' : a.hitOf !== undefined ? 'hitOf' : 'object';

export function AnchorEditor({ label, anchor, self, onChange }: { label: string; anchor: Anchor; self: string; onChange: (anchor: Anchor) => void }) {
	const project = useBench((s) => s.project);
	const kind = anchorKind(anchor);
	const objects = project.scene.objects.map((o) => ({ value: o.id, label: o.name ?? o.id }));
	const cameras = project.scene.cameras.map((c) => ({ value: c.id, label: c.name ?? c.id }));
	const queries = project.queries.filter((q) => q.id !== self).map((q) => ({ value: q.id, label: q.name ?? q.id }));
	const kinds = ANCHOR_KINDS.filter(({ value }) =>
		value === 'hitOf' ? queries.length > 0 : value === 'camera' ? cameras.length > 0 : value === 'point' || objects.length > 0,
	);
	const change = (next: AnchorKind) => {
		if (next === 'point') onChange({ point: [0, 0, 0] });
		if (next === 'object') onChange({ object: anchor.focus ?? objects[0]?.value ?? '' });
		if (next === 'focus') onChange({ focus: anchor.object ?? objects[0]?.value ?? '' });
		if (next === 'camera') onChange({ camera: cameras[0]?.value ?? '' });
		if (next === 'hitOf') onChange({ hitOf: queries[0]?.value ?? '' });
	};
	return (
		<div>
			<Row>
				<Select label={`${label}: kind`} value={kind} options={kinds} onChange={change} className="w-full" />
			</Row>
			{kind === 'object' && (
				<>
					<Row>
						<Select label={label} value={anchor.object ?? ''} options={objects} onChange={(object) => onChange({ ...anchor, object })} className="w-full" />
					</Row>
					<Row>
						<span className="text-quiet">moved by, in its own axes (m)</span>
						<VectorFields label="Offset" value={anchor.offset ?? [0, 0, 0]} onChange={(offset) => onChange({ ...anchor, offset })} />
					</Row>
				</>
			)}
			{kind === 'focus' && <Select label={label} value={anchor.focus ?? ''} options={objects} onChange={(focus) => onChange({ focus })} className="w-full" />}
			{kind === 'camera' && (
				<Select label={label} value={anchor.camera ?? ''} options={cameras} onChange={(camera) => onChange({ camera })} className="w-full" />
			)}
			{kind === 'point' && <VectorFields label={label} value={anchor.point ?? [0, 0, 0]} onChange={(point) => onChange({ point })} />}
			{kind === 'hitOf' && (
				<>
					<Row>
						<Select label={label} value={anchor.hitOf ?? ''} options={queries} onChange={(hitOf) => onChange({ ...anchor, hitOf })} className="w-full" />
					</Row>
					<NumberField label="off the surface" unit="m" min={0} step={0.01} value={anchor.off ?? 0} onChange={(off) => onChange({ ...anchor, off })} />
				</>
			)}
		</div>
	);
}

export function DirectionEditor({ direction, self, onChange }: { direction: Direction; self: string; onChange: (direction: Direction) => void }) {
	const project = useBench((s) => s.project);
	const flat = project.scene.kind === 'flat';
	const axes = [
		{ value: '', label: 'the world' },
		...project.scene.objects.map((o) => ({ value: o.id, label: o.name ?? o.id })),
		...project.scene.cameras.map((c) => ({ value: c.id, label: c.name ?? c.id })),
	];
	return (
		<div>
			<Row>
				<Select
					label="Direction: kind"
					value={direction.toward ? 'toward' : 'along'}
					options={[
						{ value: 'along', label: 'along an axis' },
						{ value: 'toward', label: 'toward a place' },
					]}
					onChange={(kind) => onChange(kind === 'along' ? { along: flat ? [1, 0, 0] : [0, 0, -1] } : { toward: { point: [0, 0, 0] } })}
					className="w-full"
				/>
			</Row>
			{direction.toward ? (
				<AnchorEditor label="Toward" anchor={direction.toward} self={self} onChange={(toward) => onChange({ toward })} />
			) : (
				<>
					<Row>
						<VectorFields label="Along" value={direction.along ?? [0, 0, -1]} onChange={(along) => onChange({ ...direction, along })} />
					</Row>
					<Row>
						<span className="text-quiet">in the axes of</span>
						<Select
							label="Axes of"
							value={direction.of ?? ''}
							options={axes}
							onChange={(of) => onChange(of === '' ? { along: direction.along ?? [0, 0, -1] } : { along: direction.along ?? [0, 0, -1], of })}
							className="w-full"
						/>
					</Row>
				</>
			)}
		</div>
	);
}

/** Layers to tick, or all of them. `none` allows the empty choice. */
export function LayersEditor({
	layers,
	none,
	onChange,
}: {
	layers: readonly string[] | 'all' | undefined;
	none?: boolean;
	onChange: (layers: string[] | 'all') => void;
}) {
	const all = useBench((s) => s.project.scene.layers);
	const chosen = layers === 'all' ? all.map((l) => l.id) : (layers ?? []);
	return (
		<fieldset>
			<legend className="sr-only">Layers</legend>
			<Check label="All layers" checked={layers === 'all'} onChange={(on) => onChange(on ? 'all' : none ? [] : all.slice(0, 1).map((l) => l.id))} />
			<hr className="my-1" />
			{all.map((layer) => (
				<Check
					key={layer.id}
					label={layer.name ?? layer.id}
					checked={chosen.includes(layer.id)}
					onChange={(on) => {
						const next = all.map((l) => l.id).filter((id) => (id === layer.id ? on : chosen.includes(id)));
						if (next.length > 0 || none) onChange(next);
					}}
				/>
			))}
			{!none && <p className="mt-1 text-[12px] text-quiet">At least one: a query that can choose from no layer is no query.</p>}
		</fieldset>
	);
}

const TAG_USES = ['any', 'all', 'none'] as const;

export function TagsEditor({ query, onChange }: { query: Query; onChange: (tags: { any: string[]; all: string[]; none: string[] }) => void }) {
	const tags = useBench((s) => s.project.scene.tags);
	const now = { any: query.selects?.tags?.any ?? [], all: query.selects?.tags?.all ?? [], none: query.selects?.tags?.none ?? [] };
	const depth = (id: string): number => {
		let n = 0;
		for (let at = tags.find((t) => t.id === id)?.under; at !== undefined && n < 8; at = tags.find((t) => t.id === at)?.under) n++;
		return n;
	};
	if (tags.length === 0) return <p className="text-quiet">This project has no tags.</p>;
	return (
		<table className="w-full">
			<thead>
				<tr className="text-quiet">
					<th className="text-left font-normal">tag</th>
					{TAG_USES.map((use) => (
						<th key={use} className="font-normal">
							{use === 'any' ? 'any of' : use === 'all' ? 'all of' : 'none of'}
						</th>
					))}
				</tr>
			</thead>
			<tbody>
				{inFamilies(tags).map((tag) => (
					<tr key={tag.id}>
						<td className="figure" style={{ paddingLeft: depth(tag.id) * 12 }}>
							{tag.id}
						</td>
						{TAG_USES.map((use) => (
							<td key={use} className="text-center">
								<input
									type="checkbox"
									aria-label={`${tag.id}: ${use}`}
									checked={now[use].includes(tag.id)}
									onChange={(event) => {
										const next = {
											any: now.any.filter((t) => t !== tag.id),
											all: now.all.filter((t) => t !== tag.id),
											none: now.none.filter((t) => t !== tag.id),
										};
										if (event.target.checked) next[use].push(tag.id);
										onChange(next);
									}}
								/>
							</td>
						))}
					</tr>
				))}
			</tbody>
		</table>
	);
}

function inFamilies<T extends { id: string; under?: string | undefined }>(tags: readonly T[]): T[] {
	const below = (id: string | undefined): T[] => tags.filter((t) => t.under === id).flatMap((t) => [t, ...below(t.id)]);
	return below(undefined);
}

export function ConditionsEditor({ query, onChange }: { query: Query; onChange: (when: Condition[]) => void }) {
	const project = useBench((s) => s.project);
	const when = query.selects?.when ?? [];
	const known = [...new Set([...project.scene.objects.flatMap((o) => Object.keys(o.states ?? {})), ...Object.keys(project.scene.states ?? {})])].sort();
	const set = (i: number, next: Condition | null) => onChange(when.flatMap((c, k) => (k === i ? (next ? [next] : []) : [c])));
	return (
		<div>
			<datalist id="known-states">
				{known.map((state) => (
					<option key={state} value={state} />
				))}
			</datalist>
			{when.map((condition, i) => (
				// biome-ignore lint/suspicious/noArrayIndexKey: conditions have no name but their place
				<div key={i} className="mb-2 flex flex-wrap items-center gap-1">
					<Select
						label={`Condition ${i + 1}: of`}
						value={condition.of}
						options={[
							{ value: 'target', label: 'its' },
							...(query.asker === undefined ? [] : [{ value: 'asker' as const, label: 'the asker’s' }]),
							{ value: 'scene', label: 'the scene’s' },
						]}
						onChange={(of) => set(i, { ...condition, of })}
					/>
					<input
						aria-label={`Condition ${i + 1}: state`}
						list="known-states"
						className="figure w-24"
						defaultValue={condition.state}
						onBlur={(event) => event.target.value && set(i, { ...condition, state: event.target.value })}
					/>
					<Select
						label={`Condition ${i + 1}: test`}
						value={
							condition.is === true
								? 'yes'
								: condition.is === false
									? 'no'
									: condition.above !== undefined && condition.below !== undefined
										? 'between'
										: condition.above !== undefined
											? 'above'
											: condition.below !== undefined
												? 'below'
												: 'number'
						}
						options={[
							{ value: 'yes', label: 'is yes' },
							{ value: 'no', label: 'is no' },
							{ value: 'number', label: 'is the number' },
							{ value: 'above', label: 'is above' },
							{ value: 'below', label: 'is below' },
							{ value: 'between', label: 'lies between' },
						]}
						onChange={(test) => {
							const base = { of: condition.of, state: condition.state };
							const n = typeof condition.is === 'number' ? condition.is : (condition.above ?? condition.below ?? 0);
							set(
								i,
								test === 'yes'
									? { ...base, is: true }
									: test === 'no'
										? { ...base, is: false }
										: test === 'number'
											? { ...base, is: n }
											: test === 'above'
												? { ...base, above: n }
												: { ...base, below: n },
							);
						}}
					/>
					{typeof condition.is === 'number' && (
						<NumberField hideLabel label="Number" className="w-16" value={condition.is} step={1} onChange={(is) => set(i, { ...condition, is })} />
					)}
					{condition.above !== undefined && (
						<NumberField hideLabel label="Above" className="w-16" value={condition.above} step={1} onChange={(above) => set(i, { ...condition, above })} />
					)}
					{condition.below !== undefined && (
						<NumberField hideLabel label="Below" className="w-16" value={condition.below} step={1} onChange={(below) => set(i, { ...condition, below })} />
					)}
					<Button quiet aria-label={`Remove condition ${i + 1}`} onClick={() => set(i, null)}>
						<X size={13} />
					</Button>
				</div>
			))}
			<Button onClick={() => onChange([...when, { of: 'target', state: known[0] ?? 'ready', is: true }])}>
				<Plus size={13} /> Condition
			</Button>
		</div>
	);
}

const RULES: { value: RuleName; label: string; unit: string | undefined; slack: number }[] = [
	{ value: 'distance', label: 'nearest', unit: 'm', slack: 0.001 },
	{ value: 'aim', label: 'nearest to the aim', unit: '°', slack: 0.1 },
	{ value: 'cursor', label: 'nearest to the cursor', unit: 'px', slack: 0.5 },
	{ value: 'priority', label: 'higher priority', unit: undefined, slack: 0 },
	{ value: 'direct', label: 'touched before assisted', unit: undefined, slack: 0 },
	{ value: 'listed', label: 'first in the file', unit: undefined, slack: 0 },
];

export function ChooseEditor({ query, rules, onChange }: { query: Query; rules: readonly Rule[]; onChange: (choose: NonNullable<Query['choose']>) => void }) {
	const flat = useBench((s) => s.project.scene.kind === 'flat');
	const tieSlack = useBench((s) => s.project.scene.tieSlack ?? 0.001);
	const take = query.choose?.take ?? (query.kind === 'hitbox' ? 'all' : 1);
	const offered = RULES.filter((r) => (r.value === 'cursor' ? query.kind === 'pick' : r.value === 'aim' ? !(flat && query.kind === 'pick') : true));
	const put = (by: Rule[]) => onChange({ ...query.choose, by });
	const swap = (i: number, j: number) => {
		const by = [...rules];
		[by[i], by[j]] = [by[j] as Rule, by[i] as Rule];
		put(by);
	};
	return (
		<div>
			<Row>
				<span>Take</span>
				<Select
					label="Take"
					value={take === 'all' ? 'all' : take === 1 ? 'one' : 'some'}
					options={[
						{ value: 'one', label: 'one' },
						{ value: 'some', label: 'up to a number' },
						{ value: 'all', label: 'all' },
					]}
					onChange={(v) => onChange({ ...query.choose, take: v === 'one' ? 1 : v === 'all' ? 'all' : 2 })}
				/>
				{typeof take === 'number' && take > 1 && (
					<NumberField
						hideLabel
						label="How many"
						className="w-14"
						step={1}
						min={1}
						value={take}
						onChange={(n) => onChange({ ...query.choose, take: Math.round(n) })}
					/>
				)}
			</Row>
			<ol className="mb-2 space-y-1">
				{rules.map((rule, i) => {
					const kind = RULES.find((r) => r.value === rule.rule);
					return (
						<li key={rule.rule} className="flex items-center gap-1">
							<span className="figure w-4 text-quiet">{i + 1}</span>
							<span className="flex-1">{kind?.label}</span>
							{rule.rule === 'distance' && (
								<Select
									label="Distance to"
									value={rule.to ?? 'contact'}
									options={[
										{ value: 'contact', label: 'contact' },
										{ value: 'focus', label: 'focus' },
									]}
									onChange={(to) => put(rules.map((r, k) => (k === i ? { ...r, to } : r)))}
								/>
							)}
							<NumberField
								hideLabel
								label={`Slack of ${kind?.label}`}
								className="w-20"
								min={0}
								step={kind?.value === 'distance' ? 0.01 : 0.1}
								{...(kind?.unit ? { unit: kind.unit } : {})}
								value={rule.slack ?? (rule.rule === 'distance' ? tieSlack : (kind?.slack ?? 0))}
								onChange={(slack) => put(rules.map((r, k) => (k === i ? { ...r, slack } : r)))}
							/>
							<Button quiet aria-label={`${kind?.label}: earlier`} disabled={i === 0} onClick={() => swap(i, i - 1)}>
								<ArrowUp size={12} />
							</Button>
							<Button quiet aria-label={`${kind?.label}: later`} disabled={i === rules.length - 1} onClick={() => swap(i, i + 1)}>
								<ArrowDown size={12} />
							</Button>
							<Button quiet aria-label={`Remove ${kind?.label}`} disabled={rules.length === 1} onClick={() => put(rules.filter((_, k) => k !== i))}>
								<X size={12} />
							</Button>
						</li>
					);
				})}
			</ol>
			<div className="flex flex-wrap gap-1">
				{offered
					.filter((r) => !rules.some((x) => x.rule === r.value))
					.map((r) => (
						<Button key={r.value} onClick={() => put([...rules, { rule: r.value }])}>
							<Plus size={12} /> {r.label}
						</Button>
					))}
			</div>
		</div>
	);
}

type Outcome = NonNullable<Query['outcomes']>[number];

/** Which tag leads to which prompt and action: the first that fits decides. */
export function OutcomesEditor({ outcomes, onChange }: { outcomes: readonly Outcome[]; onChange: (outcomes: Outcome[]) => void }) {
	const known = useBench((s) => s.project.scene.tags);
	const tags = known.map((t) => ({ value: t.id, label: t.name ?? t.id }));
	const set = (i: number, next: Outcome | null) => onChange(outcomes.flatMap((o, k) => (k === i ? (next ? [next] : []) : [o])));
	/** An empty field leaves the object's own; a dash takes it away. */
	const text = (value: string | null | undefined) => (value === null ? '–' : (value ?? ''));
	const parsed = (key: 'prompt' | 'action', o: Outcome, value: string): Outcome => {
		const { [key]: _, ...rest } = o;
		return value === '' ? (rest as Outcome) : ({ ...rest, [key]: value === '–' || value === '-' ? null : value } as Outcome);
	};
	return (
		<div>
			{outcomes.map((o, i) => (
				// biome-ignore lint/suspicious/noArrayIndexKey: outcomes have no name but their place
				<div key={i} className="mb-2 grid grid-cols-[1fr_1.2fr_1fr_auto] items-center gap-1">
					<Select label={`Outcome ${i + 1}: tag`} value={o.tag} options={tags} onChange={(tag) => set(i, { ...o, tag })} />
					<TextField label={`Outcome ${i + 1}: prompt`} placeholder="its own prompt" value={text(o.prompt)} onCommit={(v) => set(i, parsed('prompt', o, v))} />
					<TextField label={`Outcome ${i + 1}: action`} placeholder="its own action" value={text(o.action)} onCommit={(v) => set(i, parsed('action', o, v))} />
					<Button quiet aria-label={`Remove outcome ${i + 1}`} onClick={() => set(i, null)}>
						<X size={13} />
					</Button>
				</div>
			))}
			<Button disabled={tags.length === 0} onClick={() => onChange([...outcomes, { tag: tags[0]?.value ?? '' }])}>
				<Plus size={13} /> Outcome
			</Button>
			<p className="mt-1 text-[12px] text-quiet">The first tag that fits decides. An empty field leaves the object’s own; a dash takes it away.</p>
		</div>
	);
}
