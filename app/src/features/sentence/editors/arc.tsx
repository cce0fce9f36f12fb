/** How a ray or a sweep is thrown: how fast, where to, and how its flight is taken apart. */
import type { Arc, Direction, Query } from '@frelk/core';
import { Fragment } from 'react';
import { NumberField, Select } from '../../../ui/controls';
import { AnchorEditor } from './anchor';
import { DirectionEditor } from './direction';

type Thrown = Extract<Query, { kind: 'ray' | 'sweep' }>;

/** What is thrown with: one of a place to hit and a direction. */
export interface Throw {
	arc: Arc;
	aim?: Direction;
}

/** Of a throw that was a straight way until now: as far as a hand throws. */
export const firstThrow = (query: Thrown): Throw =>
	query.to ? { arc: { speed: 9, at: query.to } } : { arc: { speed: 9 }, aim: query.aim ?? { along: [0, 0, -1] } };

const FIELDS = [
	{ key: 'speed', label: 'speed', unit: 'm/s', least: 0.1, step: 0.5, usual: 9 },
	{ key: 'time', label: 'flies for', unit: 's', least: 0.01, step: 0.5, usual: 5 },
	{ key: 'gravity', label: 'gravity', unit: 'm/s²', least: 0, step: 0.1, usual: 9.81 },
	{ key: 'step', label: 'cast every', unit: 's', least: 0.001, step: 0.005, usual: 1 / 60 },
] as const;

export function ArcEditor({ query, arc, onChange }: { query: Thrown; arc: Arc; onChange: (next: Throw) => void }) {
	const put = (part: Partial<Arc>) => onChange({ arc: { ...arc, ...part }, ...(query.aim ? { aim: query.aim } : {}) });
	const { at, high: _, ...plain } = arc;
	return (
		<div className="space-y-1">
			<Select
				label="Thrown"
				value={at ? (arc.high ? 'high' : 'low') : 'aim'}
				options={[
					{ value: 'low', label: 'to a place, the flat way' },
					{ value: 'high', label: 'to a place, the steep way' },
					{ value: 'aim', label: 'in a direction' },
				]}
				onChange={(next) =>
					onChange(
						next === 'aim'
							? { arc: plain, aim: at ? { toward: at } : (query.aim ?? { along: [0, 0, -1] }) }
							: {
									arc: {
										...plain,
										at: at ?? query.aim?.toward ?? { point: [0, 0, 0] },
										...(next === 'high' ? { high: true } : {}),
									},
								},
					)
				}
				className="w-full"
			/>
			{at ? (
				<AnchorEditor label="Thrown to" anchor={at} self={query.id} onChange={(next) => put({ at: next })} />
			) : (
				<DirectionEditor
					direction={query.aim ?? { along: [0, 0, -1] }}
					self={query.id}
					onChange={(aim) => onChange({ arc, aim })}
				/>
			)}
			<div className="grid grid-cols-[5rem_minmax(0,1fr)] items-center gap-x-2 gap-y-1">
				{FIELDS.map(({ key, label, unit, least, step, usual }) => (
					<Fragment key={key}>
						<span className="text-quiet">{label}</span>
						<NumberField
							hideLabel
							label={label}
							unit={unit}
							min={least}
							step={step}
							value={Number((arc[key] ?? usual).toFixed(4))}
							onChange={(value) => put({ [key]: value })}
						/>
					</Fragment>
				))}
			</div>
		</div>
	);
}
