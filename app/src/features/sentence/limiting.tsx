/** How far, how wide, past what: assist, range, view, approach, sight, starts. */
import { BORNE_WITHIN, degrees, metres, type OverlapQuery, type Query, type Rule, wordsOfLeast } from '@frelk/core';
import { useDeferredBench } from '../../model/use-bench';
import { Check, NumberField, Select } from '../../ui/controls';
import { AnchorEditor } from './editors/anchor';
import { DirectionEditor } from './editors/direction';
import { LayersEditor } from './editors/layers';
import { type Change, Joint, partFields, Remove, Token } from './parts';
import { layersWords, rangeJoint, rangeWords, viewWords } from './words';

export const Limits = partFields(
	['range', 'view', 'sight', 'assist', 'approach', 'startInside', 'room'],
	({ query, change }) => {
		const kind = useDeferredBench((s) => s.project.scene.kind);
		const { range, view, sight } = query;
		const blockers = sight?.blockers;
		const blocking = useDeferredBench((s) =>
			blockers === undefined || blockers === 'all' ? '' : layersWords(s.project, blockers),
		);
		const bearing = useDeferredBench((s) =>
			roomOf(query)?.on ? layersWords(s.project, roomOf(query)?.on?.layers) : '',
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
									change(
										'Assist',
										(q) => (q.kind === 'ray' || q.kind === 'pick') && q.assist && void (q.assist.by = by),
									)
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
							text={`${blockers.length === 0 ? 'nothing' : blockers === 'all' ? 'everything' : blocking}${sight?.to === 'marks' ? `, ${wordsOfLeast(sight.least)}` : ''}`}
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
											{ value: 'marks', label: 'seen by its marks' },
										]}
										onChange={(to) =>
											change('Sight', (q) => {
												if (!q.sight) return;
												if (to === 'focus') delete q.sight.to;
												else q.sight.to = to;
												if (to === 'marks') return;
												delete q.sight.least;
												if (q.choose?.by) q.choose.by = withoutSeen(q.choose.by);
											})
										}
										className="my-1 w-full"
									/>
									{sight?.to === 'marks' && (
										<Select
											label="Marks to be seen"
											value={String(sight.least ?? 1)}
											options={[
												...[1, 2, 3, 4].map((n) => ({
													value: String(n),
													label: n === 1 ? 'one of them' : `${n} of them`,
												})),
												{ value: 'all', label: 'all of them' },
											]}
											onChange={(least) =>
												change(
													'Marks to be seen',
													(q) => q.sight && void (q.sight.least = least === 'all' ? 'all' : Number(least)),
												)
											}
											className="my-1 w-full"
										/>
									)}
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
				{query.kind === 'overlap' && query.room && (
					<>
						<Joint>, with</Joint>
						<Token part="Room" text={query.room.on ? `room to stand on ${bearing}` : 'room to be there'}>
							<RoomEditor room={query.room} change={change} />
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
	},
);

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

const roomOf = (query: Query) => (query.kind === 'overlap' ? query.room : undefined);

/** Rules that count marks go with them. */
const withoutSeen = (by: readonly Rule[]): Rule[] => {
	const rest = by.filter((rule) => rule.rule !== 'seen');
	return rest.length > 0 ? rest : [{ rule: 'distance' }];
};

function RoomEditor({ room, change }: { room: NonNullable<OverlapQuery['room']>; change: Change }) {
	const put = (next: OverlapQuery['room']) =>
		change('Room', (q) => {
			if (q.kind !== 'overlap') return;
			if (next) q.room = next;
			else delete q.room;
		});
	const { on } = room;
	return (
		<>
			<Check
				label="Something has to bear it"
				checked={on !== undefined}
				onChange={(is) => put(is ? { on: { layers: 'all' } } : {})}
			/>
			{on && (
				<>
					<LayersEditor layers={on.layers} onChange={(layers) => put({ on: { ...on, layers } })} />
					<NumberField
						label="Within"
						unit="m"
						min={0}
						step={0.01}
						value={on.within ?? BORNE_WITHIN}
						onChange={(within) => put({ on: { ...on, within } })}
					/>
				</>
			)}
			<Remove onClick={() => put(undefined)} />
		</>
	);
}
