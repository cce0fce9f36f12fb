/** States under which an object counts. */
import type { Condition } from '@frelk/core';
import { Plus, X } from 'lucide-react';
import { useBench } from '../../../model/use-bench';
import { Button, NumberField, Select } from '../../../ui/controls';

/** @param label before each part's name, where several stand beside each other */
export function ConditionsEditor({
	when,
	hasAsker,
	label = 'Condition',
	onChange,
}: {
	when: readonly Condition[];
	hasAsker: boolean;
	label?: string;
	onChange: (when: Condition[]) => void;
}) {
	const project = useBench((s) => s.project);
	const known = [
		...new Set([
			...project.scene.objects.flatMap((o) => Object.keys(o.states ?? {})),
			...Object.keys(project.scene.states ?? {}),
		]),
	].sort();
	const set = (i: number, next: Condition | null) =>
		onChange(when.flatMap((c, k) => (k === i ? (next ? [next] : []) : [c])));
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
						label={`${label} ${i + 1}: of`}
						value={condition.of}
						options={[
							{ value: 'target', label: 'its' },
							...(!hasAsker ? [] : [{ value: 'asker' as const, label: 'the asker’s' }]),
							{ value: 'scene', label: 'the scene’s' },
						]}
						onChange={(of) => set(i, { ...condition, of })}
					/>
					<input
						aria-label={`${label} ${i + 1}: state`}
						list="known-states"
						className="figure w-24"
						defaultValue={condition.state}
						onBlur={(event) => event.target.value && set(i, { ...condition, state: event.target.value })}
					/>
					<Select
						label={`${label} ${i + 1}: test`}
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
						<NumberField
							hideLabel
							label="Number"
							className="w-16"
							value={condition.is}
							step={1}
							onChange={(is) => set(i, { ...condition, is })}
						/>
					)}
					{condition.above !== undefined && (
						<NumberField
							hideLabel
							label="Above"
							className="w-16"
							value={condition.above}
							step={1}
							onChange={(above) => set(i, { ...condition, above })}
						/>
					)}
					{condition.below !== undefined && (
						<NumberField
							hideLabel
							label="Below"
							className="w-16"
							value={condition.below}
							step={1}
							onChange={(below) => set(i, { ...condition, below })}
						/>
					)}
					<Button quiet aria-label={`Remove ${label.toLowerCase()} ${i + 1}`} onClick={() => set(i, null)}>
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
