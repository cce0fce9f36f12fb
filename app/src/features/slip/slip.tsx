/** The slip: a small card with which the picked object is edited, on the stage. */
import type { SceneObject, Shape, WorldObject } from '@frelk/core';
import { X } from 'lucide-react';
import { Button, Check, NumberField, Popover, Select, TextField } from '../../ui/controls';
import { nameOf, useBench, useBenchStore } from '../bench/store';

/** @param side of the stage on which it lies: the one away from the object */
export function Slip({ object, side }: { object: WorldObject; side: 'left' | 'right' }) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const def = project.scene.objects.find((o) => o.id === object.id);
	if (!def) return null;
	const flat = project.scene.kind === 'flat';
	const title = def.name ?? def.id;
	const change = (label: string, recipe: (o: SceneObject) => void) =>
		store.getState().edit(`${label} of ${title}`, (draft) => {
			const target = draft.scene.objects.find((o) => o.id === object.id);
			if (target) recipe(target);
		});
	const position = def.position ?? [0, 0, 0];
	const rotation = def.rotation ?? [0, 0, 0];
	const axes = ['X', 'Y', 'Z'] as const;
	return (
		<section
			data-keeps-wheel
			aria-label={`Slip: ${title}`}
			className={`absolute top-11 w-72 overflow-auto rounded-[4px] border border-ink/60 bg-panel p-2 shadow-md ${side === 'left' ? 'left-3 max-h-[calc(100%-3.5rem)]' : 'right-3 max-h-[calc(100%-17rem)]'}`}
		>
			<header className="mb-1 flex items-center gap-1">
				<TextField label="Name" value={title} className="border-transparent! font-semibold" onCommit={(name) => change('Name', (o) => void (o.name = name))} />
				<Button quiet aria-label="Put the slip away" onClick={() => store.getState().pick(null)}>
					<X size={14} />
				</Button>
			</header>
			<div className="grid grid-cols-[4.2rem_1fr] items-center gap-x-2 gap-y-1">
				<span className="text-quiet">Place</span>
				<span className="grid grid-cols-3 gap-1">
					{axes.map((axis, k) => (
						<NumberField
							key={axis}
							hideLabel
							label={axis === 'Z' && flat ? 'Depth' : axis}
							value={position[k]}
							step={flat ? 0.01 : 0.1}
							onChange={(v) => change('Place', (o) => void (o.position = with3(position, k, v)))}
						/>
					))}
				</span>
				<span className="text-quiet">Turn</span>
				<span className="grid grid-cols-3 gap-1">
					{(flat ? [2] : [0, 1, 2]).map((k) => (
						<NumberField
							key={k}
							hideLabel
							label={['Yaw', 'Pitch', 'Roll'][k] as string}
							value={rotation[k]}
							step={5}
							onChange={(v) => change('Turn', (o) => void (o.rotation = with3(rotation, k, v)))}
						/>
					))}
				</span>
				<span className="text-quiet">Layer</span>
				<Select
					label="Layer"
					value={def.layer}
					options={project.scene.layers.map((l) => ({ value: l.id, label: l.name ?? l.id }))}
					onChange={(layer) => change('Layer', (o) => void (o.layer = layer))}
				/>
				<span className="text-quiet">Tags</span>
				<Popover
					label="Tags"
					trigger={
						<Button className="figure justify-start truncate" aria-label={`Tags: ${(def.tags ?? []).join(', ') || 'none'}`}>
							{(def.tags ?? []).join(', ') || 'none'}
						</Button>
					}
				>
					{project.scene.tags.map((tag) => (
						<Check
							key={tag.id}
							label={tag.name ?? tag.id}
							checked={def.tags?.includes(tag.id) ?? false}
							onChange={(on) =>
								change('Tags', (o) => {
									const tags = (o.tags ?? []).filter((t) => t !== tag.id);
									o.tags = on ? [...tags, tag.id] : tags;
								})
							}
						/>
					))}
					{project.scene.tags.length === 0 && <p className="text-quiet">This project has no tags.</p>}
				</Popover>
				<span className="text-quiet">Prompt</span>
				<TextField label="Prompt" value={def.prompt ?? ''} onCommit={(v) => change('Prompt', (o) => (v === '' ? void delete o.prompt : void (o.prompt = v)))} />
				{Object.entries(def.states ?? {}).map(([state, value]) => (
					<StateRow key={state} state={state} value={value} onChange={(v) => change(state, (o) => void (o.states = { ...o.states, [state]: v }))} />
				))}
				<span className="text-quiet">Active</span>
				<Check label="Active" checked={def.active ?? true} onChange={(on) => change('Active', (o) => (on ? void delete o.active : void (o.active = false)))}>
					<span className="sr-only">Active</span>
				</Check>
				{def.standsFor !== undefined && (
					<>
						<span className="text-quiet">Answers for</span>
						<span>{nameOf(project, 'object', def.standsFor)}</span>
					</>
				)}
			</div>
			{(def.shapes ?? []).length > 0 && (
				<ul aria-label="Shapes" className="mt-2 space-y-2 border-t pt-1">
					{(def.shapes ?? []).map((shape, i) => (
						<ShapeRow
							key={shape.id}
							shape={shape}
							flat={flat}
							onChange={(recipe) => change(`Shape ${shape.id}`, (o) => o.shapes?.[i] && recipe(o.shapes[i]))}
						/>
					))}
				</ul>
			)}
		</section>
	);
}

const with3 = (v: readonly [number, number, number], k: number, value: number): [number, number, number] => {
	const out: [number, number, number] = [...v];
	out[k as 0] = value;
	return out;
};

function StateRow({ state, value, onChange }: { state: string; value: boolean | number; onChange: (value: boolean | number) => void }) {
	return (
		<>
			<span className="truncate text-quiet" title={state}>
				{state}
			</span>
			{typeof value === 'boolean' ? (
				<Check label={state} checked={value} onChange={onChange}>
					{value ? 'yes' : 'no'}
				</Check>
			) : (
				<NumberField hideLabel label={state} value={value} step={1} onChange={onChange} />
			)}
		</>
	);
}

function ShapeRow({ shape, flat, onChange }: { shape: Shape; flat: boolean; onChange: (recipe: (shape: Shape) => void) => void }) {
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
			</span>
			{(shape.kind === 'box' || shape.kind === 'rect') &&
				shape.size.map((v, k) => (
					<NumberField
						// biome-ignore lint/suspicious/noArrayIndexKey: the sizes are told apart by their place
						key={k}
						hideLabel
						className="w-20"
						label={`${shape.id} ${['width', 'height', 'depth'][k]}`}
						value={v}
						step={step}
						onChange={(n) => onChange((s) => (s.kind === 'box' || s.kind === 'rect') && void (s.size[k as 0] = n))}
					/>
				))}
			{'radius' in shape && (
				<NumberField
					hideLabel
					className="w-24"
					label={`${shape.id} radius`}
					unit="r"
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
					value={shape.height}
					step={step}
					onChange={(n) => onChange((s) => 'height' in s && void (s.height = n))}
				/>
			)}
		</li>
	);
}
