/** A place a query starts from, ends at or measures from. */
import type { Anchor } from '@frelk/core';
import { useBench } from '../../../model/use-bench';
import { NumberField, Select } from '../../../ui/controls';
import { VectorFields } from '../../../ui/vector-fields';
import { Row } from './row';

type AnchorKind = 'object' | 'focus' | 'camera' | 'point' | 'hitOf';

const ANCHOR_KINDS: { value: AnchorKind; label: string }[] = [
	{ value: 'object', label: 'an object' },
	{ value: 'focus', label: 'the focus of an object (where it is aimed at)' },
	{ value: 'camera', label: 'a camera' },
	{ value: 'point', label: 'a point' },
	{ value: 'hitOf', label: 'the hit of a query' },
];

const anchorKind = (a: Anchor): AnchorKind =>
	a.point
		? 'point'
		: a.focus !== undefined
			? 'focus'
			: a.camera !== undefined
				? 'camera'
				: a.hitOf !== undefined
					? 'hitOf'
					: 'object';

export function AnchorEditor({
	label,
	anchor,
	self,
	onChange,
}: {
	label: string;
	anchor: Anchor;
	self: string;
	onChange: (anchor: Anchor) => void;
}) {
	const project = useBench((s) => s.project);
	const kind = anchorKind(anchor);
	const objects = project.scene.objects.map((o) => ({ value: o.id, label: o.name ?? o.id }));
	const cameras = project.scene.cameras.map((c) => ({ value: c.id, label: c.name ?? c.id }));
	const queries = project.queries.filter((q) => q.id !== self).map((q) => ({ value: q.id, label: q.name ?? q.id }));
	const kinds = ANCHOR_KINDS.filter(({ value }) =>
		value === 'hitOf'
			? queries.length > 0
			: value === 'camera'
				? cameras.length > 0
				: value === 'point' || objects.length > 0,
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
						<Select
							label={label}
							value={anchor.object ?? ''}
							options={objects}
							onChange={(object) => onChange({ ...anchor, object })}
							className="w-full"
						/>
					</Row>
					<Row>
						<span className="text-quiet">moved by, in its own axes (m)</span>
						<VectorFields
							label="Offset"
							value={anchor.offset ?? [0, 0, 0]}
							onChange={(offset) => onChange({ ...anchor, offset })}
						/>
					</Row>
				</>
			)}
			{kind === 'focus' && (
				<Select
					label={label}
					value={anchor.focus ?? ''}
					options={objects}
					onChange={(focus) => onChange({ focus })}
					className="w-full"
				/>
			)}
			{kind === 'camera' && (
				<Select
					label={label}
					value={anchor.camera ?? ''}
					options={cameras}
					onChange={(camera) => onChange({ camera })}
					className="w-full"
				/>
			)}
			{kind === 'point' && (
				<VectorFields label={label} value={anchor.point ?? [0, 0, 0]} onChange={(point) => onChange({ point })} />
			)}
			{kind === 'hitOf' && (
				<>
					<Row>
						<Select
							label={label}
							value={anchor.hitOf ?? ''}
							options={queries}
							onChange={(hitOf) => onChange({ ...anchor, hitOf })}
							className="w-full"
						/>
					</Row>
					<NumberField
						label="off the surface"
						unit="m"
						min={0}
						step={0.01}
						value={anchor.off ?? 0}
						onChange={(off) => onChange({ ...anchor, off })}
					/>
				</>
			)}
		</div>
	);
}
