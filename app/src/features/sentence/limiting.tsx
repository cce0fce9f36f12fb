/** How far, how wide, past what: assist, range, view, approach, sight, starts. */
import { degrees, metres, type Query } from '@frelk/core';
import { useDeferredBench } from '../../model/use-bench';
import { Check, NumberField, Select } from '../../ui/controls';
import { AnchorEditor } from './editors/anchor';
import { DirectionEditor } from './editors/direction';
import { LayersEditor } from './editors/layers';
import { type Change, Joint, partFields, Remove, Token } from './parts';
import { layersWords, rangeJoint, rangeWords, viewWords } from './words';

export const Limits = partFields(
	['range', 'view', 'sight', 'assist', 'approach', 'startInside'],
	({ query, change }) => {
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
