/** The query in hand as a sentence: every variable part is a token one can click and change. Parts at their default are not spoken. */
import { degrees, metres, type Query, rulesOf } from '@frelk/core';
import { Plus } from 'lucide-react';
import { memo, useCallback } from 'react';
import { nameOf } from '../../model/names';
import { editQuery } from '../../model/store';
import { queryIn, useBench, useBenchStore, useDeferredBench, useQuery } from '../../model/use-bench';
import { Button, Check, NumberField, Popover, Select } from '../../ui/controls';
import { isFloor, likelyAsker } from '../edit/fresh-query';
import { AnchorEditor } from './editors/anchor';
import { ChooseEditor } from './editors/choose';
import { ConditionsEditor } from './editors/conditions';
import { DirectionEditor } from './editors/direction';
import { LayersEditor } from './editors/layers';
import { OutcomesEditor } from './editors/outcomes';
import { TagsEditor } from './editors/tags';
import { Opening } from './opening';
import { AskerEditor, type Change, Joint, partFields, Remove, Token } from './parts';
import {
	conditionsWords,
	layersWords,
	listWords,
	rangeJoint,
	rangeWords,
	ruleWords,
	tagsWords,
	viewWords,
} from './words';

export function Sentence() {
	const query = useDeferredBench(queryIn);
	const store = useBenchStore();
	const change: Change = useCallback((label, recipe) => editQuery(store, label, recipe), [store]);
	if (!query)
		return (
			<p className="border-b bg-panel px-3 py-2 text-quiet">
				This project has no query yet. New, on the bench, makes one.
			</p>
		);
	return (
		<section aria-label="Sentence" className="max-h-36 overflow-auto border-b bg-panel px-3 py-2 text-[14px] leading-7">
			<Opening query={query} change={change} />
			<Filters query={query} change={change} />
			<Limits query={query} change={change} />
			<Choosing query={query} change={change} />
			<Add change={change} />
		</section>
	);
}

const Filters = partFields(['selects'], ({ query, change }) => {
	const layers = useDeferredBench((s) => layersWords(s.project, query.selects?.layers));
	const selects = query.selects;
	const tags = tagsWords(query);
	return (
		<>
			<Joint>, find</Joint>
			<Token part="Layers to choose from" text={layers}>
				<LayersEditor
					layers={selects?.layers ?? 'all'}
					onChange={(layers) => change('Layers', (q) => void (q.selects = { ...q.selects, layers }))}
				/>
			</Token>
			{selects?.tags !== undefined && (
				<>
					{' '}
					tagged
					<Token part="Tags" text={tags || 'anything'}>
						<TagsEditor
							query={query}
							onChange={(next) => change('Tags', (q) => void (q.selects = { ...q.selects, tags: next }))}
						/>
						<Remove onClick={() => change('Tags', (q) => q.selects && void delete q.selects.tags)} />
					</Token>
				</>
			)}
			{selects?.when !== undefined && (
				<>
					{' '}
					where
					<Token part="Conditions" wide text={conditionsWords(query) || 'no condition'}>
						<ConditionsEditor
							query={query}
							onChange={(when) => change('Conditions', (q) => void (q.selects = { ...q.selects, when }))}
						/>
						<Remove onClick={() => change('Conditions', (q) => q.selects && void delete q.selects.when)} />
					</Token>
				</>
			)}
			{selects?.stances !== undefined && (
				<>
					{' '}
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
					{' '}
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
});

/** Ticks of which at least one stays. */
function Choices<T extends string>({
	options,
	chosen,
	onChange,
}: {
	options: readonly T[];
	chosen: readonly T[];
	onChange: (chosen: T[]) => void;
}) {
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

const Limits = partFields(['range', 'view', 'sight', 'assist', 'approach', 'startInside'], ({ query, change }) => {
	const kind = useDeferredBench((s) => s.project.scene.kind);
	const { range, view, sight } = query;
	const blockers = sight?.blockers;
	const blocking = useDeferredBench((s) =>
		blockers === undefined || blockers === 'all' ? '' : layersWords(s.project, blockers),
	);
	const ranging = useDeferredBench((s) => rangeWords(s.project, query));
	const viewing = useDeferredBench((s) => (query.view ? viewWords(s.project, query) : ''));
	const assist = query.kind === 'ray' || query.kind === 'pick' ? query.assist : undefined;
	return (
		<>
			{assist && (
				<>
					<Joint>, helped within</Joint>
					<Token
						part="Aim assist"
						text={
							assist.by === 'angle'
								? degrees(assist.within)
								: assist.by === 'pixels'
									? `${assist.within} px`
									: metres(assist.within)
						}
					>
						<Select
							label="Assist by"
							value={assist.by}
							options={(query.kind === 'pick'
								? (['pixels', 'distance', 'angle'] as const)
								: (['angle', 'distance'] as const)
							)
								.filter((by) => !(by === 'angle' && kind === 'flat' && query.kind === 'pick'))
								.map((by) => ({ value: by, label: by }))}
							onChange={(by) =>
								change('Assist', (q) => (q.kind === 'ray' || q.kind === 'pick') && q.assist && void (q.assist.by = by))
							}
							className="mb-2 w-full"
						/>
						<NumberField
							label="within"
							unit={assist.by === 'angle' ? '°' : assist.by === 'pixels' ? 'px' : 'm'}
							min={0}
							step={assist.by === 'distance' ? 0.05 : 1}
							value={assist.within}
							onChange={(within) =>
								change(
									'Assist',
									(q) => (q.kind === 'ray' || q.kind === 'pick') && q.assist && void (q.assist.within = within),
								)
							}
						/>
						<Remove
							onClick={() => change('Assist', (q) => (q.kind === 'ray' || q.kind === 'pick') && void delete q.assist)}
						/>
					</Token>
				</>
			)}
			{range && (
				<>
					<Joint>{`, ${rangeJoint(query)}`}</Joint>
					<Token part="Range" text={ranging}>
						<RangeEditor query={query} change={change} />
					</Token>
				</>
			)}
			{view && (
				<>
					<Joint>, inside</Joint>
					<Token part="View" text={viewing}>
						<NumberField
							label="half-angle"
							unit="°"
							min={0}
							step={5}
							value={view.within}
							onChange={(within) => change('View', (q) => q.view && void (q.view.within = within))}
						/>
						{kind === 'space' && (
							<Check
								label="Leave height out"
								checked={view.flat ?? false}
								onChange={(on) => change('View', (q) => q.view && void (q.view.flat = on))}
							/>
						)}
						<Check
							label="About another direction"
							checked={view.about !== undefined}
							onChange={(on) =>
								change(
									'View',
									(q) => q.view && (on ? void (q.view.about = { along: [0, 0, -1] }) : void delete q.view.about),
								)
							}
						/>
						{view.about && (
							<DirectionEditor
								direction={view.about}
								self={query.id}
								onChange={(about) => change('View', (q) => q.view && void (q.view.about = about))}
							/>
						)}
						<Remove onClick={() => change('View', (q) => void delete q.view)} />
					</Token>
				</>
			)}
			{query.approach === 'ignore' && (
				<>
					<Joint>,</Joint>
					<Token part="Approach" text="from any side">
						<Remove onClick={() => change('Approach', (q) => void delete q.approach)} />
					</Token>
				</>
			)}
			{blockers !== undefined && (
				<>
					<Joint>, stopped by</Joint>
					<Token
						part="Layers that stop it"
						text={blockers.length === 0 ? 'nothing' : blockers === 'all' ? 'everything' : blocking}
					>
						<LayersEditor
							none
							layers={blockers}
							onChange={(next) => change('Blockers', (q) => void (q.sight = { ...q.sight, blockers: next }))}
						/>
						<hr className="my-2" />
						<Check
							label="Sensors stop it too"
							checked={sight?.sensors ?? false}
							onChange={(on) => change('Blockers', (q) => q.sight && void (q.sight.sensors = on))}
						/>
						{(query.kind === 'overlap' || query.kind === 'hitbox') && (
							<>
								<Select
									label="Sight line to"
									value={sight?.to ?? 'focus'}
									options={[
										{ value: 'focus', label: 'seen when its focus is' },
										{ value: 'contact', label: 'seen when its contact is' },
									]}
									onChange={(to) =>
										change(
											'Sight',
											(q) => q.sight && (to === 'focus' ? void delete q.sight.to : void (q.sight.to = to)),
										)
									}
									className="my-1 w-full"
								/>
								<Check
									label="Seen from another place"
									checked={sight?.from !== undefined}
									onChange={(on) =>
										change(
											'Sight',
											(q) => q.sight && (on ? void (q.sight.from = { point: [0, 0, 0] }) : void delete q.sight.from),
										)
									}
								/>
								{sight?.from && (
									<AnchorEditor
										label="Seen from"
										anchor={sight.from}
										self={query.id}
										onChange={(from) => change('Sight', (q) => q.sight && void (q.sight.from = from))}
									/>
								)}
							</>
						)}
						<Remove onClick={() => change('Blockers', (q) => void delete q.sight)} />
					</Token>
				</>
			)}
			{query.startInside === 'count' && (
				<>
					<Joint>,</Joint>
					<Token part="Start inside" text="counting an object it starts inside">
						<Remove onClick={() => change('Start inside', (q) => void delete q.startInside)} />
					</Token>
				</>
			)}
		</>
	);
});

function RangeEditor({ query, change }: { query: Query; change: Change }) {
	const flat = useDeferredBench((s) => s.project.scene.kind === 'flat');
	const { range } = query;
	if (!range) return null;
	const set = (recipe: (range: NonNullable<Query['range']>) => void) =>
		change('Range', (q) => q.range && recipe(q.range));
	return (
		<div className="space-y-2">
			<div className="grid grid-cols-2 gap-2">
				<NumberField
					label="min"
					unit="m"
					min={0}
					value={range.min}
					placeholder="0"
					onChange={(v) => set((r) => void (r.min = v))}
				/>
				<NumberField
					first
					label="max"
					unit="m"
					min={0}
					value={range.max}
					placeholder="any"
					onChange={(v) => set((r) => void (r.max = v))}
				/>
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
			{!flat && (
				<Check
					label="Leave height out"
					checked={range.flat ?? false}
					onChange={(on) => set((r) => void (r.flat = on))}
				/>
			)}
			<Check
				label="Measured from another place"
				checked={range.from !== undefined}
				onChange={(on) => set((r) => (on ? void (r.from = { point: [0, 0, 0] }) : void delete r.from))}
			/>
			{range.from && (
				<AnchorEditor
					label="Measured from"
					anchor={range.from}
					self={query.id}
					onChange={(from) => set((r) => void (r.from = from))}
				/>
			)}
			<Remove onClick={() => change('Range', (q) => void delete q.range)} />
		</div>
	);
}

const Choosing = partFields(['choose', 'asker', 'ignore', 'outcomes', 'assist'], ({ query, change }) => {
	const rules = rulesOf(query);
	const take = query.choose?.take ?? (query.kind === 'hitbox' ? 'all' : 1);
	const order = rules.map(ruleWords).join(', then ');
	const text = take === 'all' ? `all, ${order} first` : take === 1 ? `the ${order}` : `up to ${take}, ${order}`;
	return (
		<>
			<Joint>; of several take</Joint>
			<Token part="Choice" wide text={text}>
				<ChooseEditor
					query={query}
					rules={rules}
					onChange={(choose) => change('Choice', (q) => void (q.choose = choose))}
				/>
			</Token>
			{query.asker !== undefined && query.kind !== 'hitbox' && <AskedBy query={query} change={change} />}
			{query.ignore !== undefined && <Ignoring query={query} change={change} />}
			{query.outcomes !== undefined && (
				<>
					<Joint>; with</Joint>
					<Token
						part="Prompts by tag"
						wide
						text={
							query.outcomes.length === 0
								? 'no prompt by tag yet'
								: `${query.outcomes.length} ${query.outcomes.length === 1 ? 'prompt' : 'prompts'} by tag`
						}
					>
						<OutcomesEditor
							outcomes={query.outcomes}
							onChange={(outcomes) => change('Outcomes', (q) => void (q.outcomes = outcomes))}
						/>
						<Remove onClick={() => change('Outcomes', (q) => void delete q.outcomes)} />
					</Token>
				</>
			)}
			<Joint>.</Joint>
		</>
	);
});

function AskedBy({ query, change }: { query: Query; change: Change }) {
	const project = useDeferredBench((s) => s.project);
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

function Ignoring({ query, change }: { query: Query; change: Change }) {
	const project = useDeferredBench((s) => s.project);
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
							onChange={(on) =>
								change(
									'Ignored',
									(q) =>
										void (q.ignore = on ? [...(q.ignore ?? []), o.id] : (q.ignore ?? []).filter((id) => id !== o.id)),
								)
							}
						/>
					))}
				</div>
				<Remove onClick={() => change('Ignored', (q) => void delete q.ignore)} />
			</Token>
		</>
	);
}

/** What can still be said. */
const Add = memo(({ change }: { change: Change }) => (
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
		<Parts change={change} />
	</Popover>
));

function Parts({ change }: { change: Change }) {
	const store = useBenchStore();
	const query = useQuery();
	const flatPick = useBench((s) => s.project.scene.kind === 'flat') && query?.kind === 'pick';
	const project = useBench((s) => s.project);
	const firstObject = project.scene.objects.find((o) => !isFloor(o))?.id;
	if (!query) return null;
	const parts: { label: string; part: string | null; when: boolean; add: (q: Query) => void }[] = [
		{
			label: 'take all that are left',
			part: null,
			when: query.choose?.take !== 'all' && query.kind !== 'hitbox',
			add: (q) => void (q.choose = { ...q.choose, take: 'all' }),
		},
		{
			label: 'tags',
			part: 'Tags',
			when: query.selects?.tags === undefined,
			add: (q) => void (q.selects = { ...q.selects, tags: { any: [] } }),
		},
		{
			label: 'conditions on states',
			part: 'Conditions',
			when: query.selects?.when === undefined,
			add: (q) => void (q.selects = { ...q.selects, when: [] }),
		},
		{ label: 'a range', part: 'Range', when: query.range === undefined, add: (q) => void (q.range = { max: 4 }) },
		{
			label: 'a view cone',
			part: 'View',
			when: query.view === undefined && !flatPick,
			add: (q) =>
				void (q.view = {
					within: 60,
					...(q.asker === undefined && (q.kind === 'overlap' || q.kind === 'hitbox')
						? { about: { along: [0, 0, -1] } }
						: {}),
				}),
		},
		{
			label: 'what stops it',
			part: 'Layers that stop it',
			when: query.sight?.blockers === undefined,
			add: (q) => void (q.sight = { ...q.sight, blockers: [] }),
		},
		{
			label: 'aim assist',
			part: 'Aim assist',
			when: (query.kind === 'ray' || query.kind === 'pick') && query.assist === undefined,
			add: (q) =>
				(q.kind === 'ray' || q.kind === 'pick') &&
				void (q.assist = q.kind === 'pick' ? { by: 'pixels', within: 20 } : { by: 'angle', within: 3 }),
		},
		{
			label: 'stances',
			part: 'Stances',
			when: query.selects?.stances === undefined,
			add: (q) => void (q.selects = { ...q.selects, stances: ['hostile'] }),
		},
		{
			label: 'roles',
			part: 'Roles',
			when: query.selects?.roles === undefined,
			add: (q) => void (q.selects = { ...q.selects, roles: ['solid'] }),
		},
		{
			label: 'prompts and actions by tag',
			part: 'Prompts by tag',
			when: query.outcomes === undefined,
			add: (q) => void (q.outcomes = []),
		},
		{
			label: 'an asker',
			part: 'Asker',
			when: query.asker === undefined && firstObject !== undefined,
			add: (q) => void (q.asker = likelyAsker(project, null) ?? firstObject ?? ''),
		},
		{ label: 'ignored objects', part: 'Ignored', when: query.ignore === undefined, add: (q) => void (q.ignore = []) },
		{
			label: 'approach from any side',
			part: 'Approach',
			when: query.approach !== 'ignore',
			add: (q) => void (q.approach = 'ignore'),
		},
		{
			label: 'count an object it starts inside',
			part: 'Start inside',
			when: query.startInside !== 'count',
			add: (q) => void (q.startInside = 'count'),
		},
	];
	return (
		<ul>
			{parts
				.filter((p) => p.when)
				.map((p) => (
					<li key={p.label}>
						<Button
							quiet
							data-chosen
							className="w-full justify-start"
							onClick={() => {
								change(p.part === null ? 'Take all' : `Add ${p.label}`, p.add);
								if (p.part !== null) store.getState().markPart(p.part, true);
							}}
						>
							{p.label}
						</Button>
					</li>
				))}
		</ul>
	);
}
