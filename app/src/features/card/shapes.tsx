/** The shapes of the object in hand: what a query sees of it. */
import type { SceneObject, Shape, ShapeKind } from '@frelk/core';
import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import { useBench } from '../../model/use-bench';
import { Button, Check, NumberField, Popover, Select } from '../../ui/controls';
import { VectorFields } from '../../ui/vector-fields';
import { FLAT_SHAPES, freshId, SPACE_SHAPES, shapeFilling } from '../edit/objects';
import { resizeShape } from '../edit/sizes';
import type { ChangeObject } from './parts';
import { readPoints } from './points';

export function Shapes({ def, flat, change }: { def: SceneObject; flat: boolean; change: ChangeObject }) {
	const shapes = def.shapes ?? [];
	const add = (kind: ShapeKind) =>
		change('Shapes', (o) => {
			const id = freshId(
				(o.shapes ?? []).map((s) => s.id),
				kind,
			);
			const size = flat ? 0.1 : 0.6;
			o.shapes = [...(o.shapes ?? []), shapeFilling(kind, id, size, size, size, flat)];
		});
	return (
		<section aria-label="Shapes" className="mt-1 border-t pt-1">
			<header className="flex items-center justify-between">
				<h3 className="font-semibold">{shapes.length === 1 ? 'Shape' : 'Shapes'}</h3>
				<Popover
					label="Add a shape"
					trigger={
						<Button quiet aria-label="Add a shape">
							<Plus size={13} /> Shape
						</Button>
					}
				>
					{(flat ? FLAT_SHAPES : SPACE_SHAPES).map((kind) => (
						<Button key={kind} quiet data-chosen className="w-full justify-start" onClick={() => add(kind)}>
							{kind}
						</Button>
					))}
				</Popover>
			</header>
			{shapes.length === 0 && <p className="text-quiet">No shape: it can only be chosen by aim assist.</p>}
			<ul className="space-y-2">
				{shapes.map((shape) => (
					<ShapeRow
						key={shape.id}
						shape={shape}
						flat={flat}
						onChange={(recipe) =>
							// Typed sizes grow from the base the thing stands on; in a flat scene there is none.
							change(`Shape ${shape.id}`, (o) => resizeShape(o, shape.id, recipe, flat ? 'middle' : 'base'))
						}
						onRemove={() =>
							change('Shapes', (o) => void (o.shapes = (o.shapes ?? []).filter((s) => s.id !== shape.id)))
						}
					/>
				))}
			</ul>
		</section>
	);
}

function ShapeRow({
	shape,
	flat,
	onChange,
	onRemove,
}: {
	shape: Shape;
	flat: boolean;
	onChange: (recipe: (shape: Shape) => void) => void;
	onRemove: () => void;
}) {
	const layers = useBench((s) => s.project.scene.layers);
	const step = flat ? 0.01 : 0.1;
	return (
		<li className="flex flex-wrap items-center gap-x-2 gap-y-1">
			<span className="flex w-full items-center gap-2">
				<span className="figure">{shape.id}</span>
				<span className="text-quiet">{shape.kind}</span>
				<Button
					quiet
					className="ml-auto"
					aria-label={`${shape.id} is ${shape.role ?? 'solid'}; change its role`}
					onClick={() => onChange((s) => void (s.role = s.role === 'sensor' ? 'solid' : 'sensor'))}
				>
					{shape.role ?? 'solid'}
				</Button>
				<Button quiet className="px-1.5!" aria-label={`Remove the shape ${shape.id}`} onClick={onRemove}>
					<X size={12} />
				</Button>
			</span>
			{(shape.kind === 'box' || shape.kind === 'rect') &&
				shape.size.map((v, k) => (
					<NumberField
						// biome-ignore lint/suspicious/noArrayIndexKey: the sizes are told apart by their place
						key={k}
						hideLabel
						className="w-20"
						mark={'whd'[k] ?? ''}
						label={`${shape.id} ${['width', 'height', 'depth'][k]}`}
						value={v}
						min={0.001}
						step={step}
						onChange={(n) =>
							onChange((s) => (s.kind === 'box' || s.kind === 'rect') && void (s.size = s.size.with(k, n) as never))
						}
					/>
				))}
			{'radius' in shape && (
				<NumberField
					hideLabel
					className="w-24"
					label={`${shape.id} radius`}
					unit="r"
					min={0.001}
					value={shape.radius}
					step={step}
					onChange={(n) => onChange((s) => 'radius' in s && void (s.radius = n))}
				/>
			)}
			{'height' in shape && (
				<NumberField
					hideLabel
					className="w-24"
					label={`${shape.id} height`}
					unit="h"
					min={0.001}
					value={shape.height}
					step={step}
					onChange={(n) => onChange((s) => 'height' in s && void (s.height = n))}
				/>
			)}
			{(shape.kind === 'hull' || shape.kind === 'polygon') && <Points shape={shape} onChange={onChange} />}
			{shape.kind === 'mesh' && (
				<span className="text-quiet">
					{shape.vertices.length / 3} corners, {shape.triangles.length / 3} triangles; edited in the file
				</span>
			)}
			<details className="w-full">
				<summary className="text-[12px] text-quiet">its place, turn, layer</summary>
				<div className="mt-1 grid grid-cols-[4.6rem_minmax(0,1fr)] items-center gap-x-2 gap-y-1">
					<span className="text-quiet">at (m)</span>
					<VectorFields
						label={`${shape.id} at`}
						step={step}
						value={shape.at ?? [0, 0, 0]}
						onChange={(at) => onChange((s) => void (s.at = flat ? [at[0], at[1], 0] : at))}
					/>
					<span className="text-quiet">turn (°)</span>
					<VectorFields
						label={`${shape.id} turn`}
						step={5}
						value={shape.rotation ?? [0, 0, 0]}
						onChange={(rotation) => onChange((s) => void (s.rotation = flat ? [0, 0, rotation[2]] : rotation))}
					/>
					<span className="text-quiet">layer</span>
					<Select
						label={`Layer of ${shape.id}`}
						value={shape.layer ?? ''}
						options={[
							{ value: '', label: 'the object’s' },
							...layers.map((l) => ({ value: l.id, label: l.name ?? l.id })),
						]}
						onChange={(v) => onChange((s) => (v === '' ? void delete s.layer : void (s.layer = v)))}
					/>
					<span className="text-quiet">counts</span>
					<Check
						label={`${shape.id} is enabled`}
						checked={shape.enabled ?? true}
						onChange={(on) => onChange((s) => (on ? void delete s.enabled : void (s.enabled = false)))}
					>
						{(shape.enabled ?? true) ? 'yes' : 'as if it were not there'}
					</Check>
				</div>
			</details>
		</li>
	);
}

function Points({
	shape,
	onChange,
}: {
	shape: Extract<Shape, { kind: 'hull' | 'polygon' }>;
	onChange: (recipe: (shape: Shape) => void) => void;
}) {
	const [wrong, setWrong] = useState<string | null>(null);
	const text = shape.points.map((p) => p.join(' ')).join('\n');
	return (
		<span className="w-full">
			<textarea
				key={text}
				aria-label={`Points of ${shape.id}, one a line, metres`}
				className="figure h-20 w-full"
				defaultValue={text}
				onBlur={(event) => {
					const points = readPoints(event.target.value, shape.kind === 'hull' ? 3 : 2);
					if (typeof points === 'string') return setWrong(points);
					setWrong(null);
					if (event.target.value !== text)
						onChange((s) => (s.kind === 'hull' || s.kind === 'polygon') && void (s.points = points as never));
				}}
			/>
			{wrong && (
				<span role="alert" className="text-cut">
					{wrong}
				</span>
			)}
		</span>
	);
}
