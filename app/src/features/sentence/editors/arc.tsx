/** How a ray or a sweep is thrown: how fast, where to, and how its flight is taken apart. */
import { ARC, type Arc, type Direction, type Query } from '@frelk/core';
import { Fragment } from 'react';
import { NumberField, Select } from '../../../ui/controls';
import { AnchorEditor } from './anchor';
import { DirectionEditor } from './direction';

type Thrown = Extract<Query, { kind: 'ray' | 'sweep' }>;

/** What is thrown with: one of a place to hit and a direction. */
interface Throw {
	arc: Arc;
	aim?: Direction;
}

/** As fast as a hand throws, m/s. */
const BY_HAND = 9;
const AHEAD: Direction = { along: [0, 0, -1] };

/** Of a throw that was a straight way until now. */
const firstThrow = ({ to, aim = AHEAD }: Thrown): Throw =>
	to ? { arc: { speed: BY_HAND, at: to } } : { arc: { speed: BY_HAND }, aim };

/** Makes a query a throw in place of whatever way it went. */
export function throwIt(q: Query, made?: Throw): void {
	if (q.kind !== 'ray' && q.kind !== 'sweep') return;
	const { arc, aim } = made ?? firstThrow(q);
	for (const part of ['to', 'length', 'aim'] as const) delete q[part];
	if (q.kind === 'ray') delete q.assist;
	q.arc = arc;
	if (aim) q.aim = aim;
}

/** Throws it another way: to a place, flatly or steeply, or in a direction. */
function throwAnotherWay(q: Query, way: 'low' | 'high' | 'aim'): void {
	if ((q.kind !== 'ray' && q.kind !== 'sweep') || !q.arc) return;
	const { at, high: _, ...plain } = q.arc;
	if (way === 'aim') throwIt(q, { arc: plain, aim: at ? { toward: at } : (q.aim ?? AHEAD) });
	else {
		const to = at ?? q.aim?.toward ?? { point: [0, 0, 0] };
		throwIt(q, { arc: { ...plain, at: to, ...(way === 'high' ? { high: true } : {}) } });
	}
}

const FIELDS = [
	{ key: 'speed', label: 'speed', unit: 'm/s', least: 0.1, step: 0.5, usual: BY_HAND },
	{ key: 'time', label: 'flies for', unit: 's', least: 0.01, step: 0.5, usual: ARC.time },
	{ key: 'gravity', label: 'gravity', unit: 'm/s²', least: 0, step: 0.1, usual: ARC.gravity },
	{ key: 'step', label: 'cast every', unit: 's', least: 0.001, step: 0.005, usual: ARC.step },
] as const;

export function ArcEditor({
	query,
	arc,
	change,
}: {
	query: Thrown;
	arc: Arc;
	/** What is changed is the query as it is by then. */
	change: (recipe: (q: Query) => void) => void;
}) {
	const put = (part: Partial<Arc>) =>
		change((q) => (q.kind === 'ray' || q.kind === 'sweep') && q.arc && void Object.assign(q.arc, part));
	const { at } = arc;
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
				onChange={(way) => change((q) => throwAnotherWay(q, way))}
				className="w-full"
			/>
			{at ? (
				<AnchorEditor label="Thrown to" anchor={at} self={query.id} onChange={(next) => put({ at: next })} />
			) : (
				<DirectionEditor
					direction={query.aim ?? AHEAD}
					self={query.id}
					onChange={(aim) => change((q) => (q.kind === 'ray' || q.kind === 'sweep') && void (q.aim = aim))}
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
