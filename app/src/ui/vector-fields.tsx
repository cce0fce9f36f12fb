/** Three numbers side by side. */
import { NumberField } from './controls';

type Triple = [number, number, number];

/** @param names of the fields where they are others than the axes of the label */
export function VectorFields({
	label,
	names = ['X', 'Y', 'Z'].map((axis) => `${label} ${axis}`),
	value,
	onChange,
	step = 0.1,
	min,
	marks = ['X', 'Y', 'Z'],
}: {
	label: string;
	names?: readonly string[];
	value: Readonly<Triple>;
	onChange: (v: Triple) => void;
	step?: number;
	min?: number;
	/** The letters in the fields. */
	marks?: readonly string[];
}) {
	return (
		<span className="grid grid-cols-[repeat(3,minmax(0,1fr))] gap-1">
			{names.map((name, k) => (
				<NumberField
					key={name}
					hideLabel
					label={name}
					mark={marks[k] ?? ''}
					value={value[k]}
					step={step}
					{...(min === undefined ? {} : { min })}
					onChange={(v) => onChange(value.map((old, i) => (i === k ? v : old)) as Triple)}
				/>
			))}
		</span>
	);
}
