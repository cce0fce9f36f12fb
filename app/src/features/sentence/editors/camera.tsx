/** A camera: where it hangs, how it looks, how far. */
import type { Camera } from '@frelk/core';
import { useBench, useBenchStore, useWorld } from '../../../model/use-bench';
import { Button, NumberField, Select, TextField } from '../../../ui/controls';
import { VectorFields } from '../../../ui/vector-fields';

export function CameraEditor({ id }: { id: string }) {
	const store = useBenchStore();
	const world = useWorld();
	const objects = useBench((s) => s.project.scene.objects);
	const flat = world.flat;
	const camera = world.cameras.get(id)?.def;
	if (!camera) return null;
	const name = camera.name ?? camera.id;
	const change = (label: string, recipe: (c: Camera) => void) =>
		store.getState().edit(`${label} of ${name}`, (draft) => {
			const target = draft.scene.cameras.find((c) => c.id === id);
			if (target) recipe(target);
		});
	return (
		<fieldset className="mt-2 grid grid-cols-[4.6rem_minmax(0,1fr)] items-center gap-x-2 gap-y-1 border-t pt-2">
			<legend className="sr-only">{name}</legend>
			<span className="text-quiet">Name</span>
			<TextField
				label="Name of the camera"
				value={name}
				onCommit={(v) => change('Name', (c) => void (c.name = v.trim() || c.id))}
			/>
			<span className="text-quiet">On</span>
			<Select
				label="Camera hangs on"
				value={camera.object ?? ''}
				options={[{ value: '', label: 'nothing' }, ...objects.map((o) => ({ value: o.id, label: o.name ?? o.id }))]}
				onChange={(v) => change('What it hangs on', (c) => (v === '' ? void delete c.object : void (c.object = v)))}
			/>
			<span className="text-quiet">Place (m)</span>
			<VectorFields
				label="Camera place"
				value={camera.position}
				onChange={(position) => change('Place', (c) => void (c.position = position))}
			/>
			{!flat && (
				<>
					<span className="text-quiet">Turn (°)</span>
					<VectorFields
						label="Camera turn"
						names={['Yaw', 'Pitch', 'Roll']}
						marks={['y', 'p', 'r']}
						step={5}
						value={camera.rotation ?? [0, 0, 0]}
						onChange={(rotation) => change('Turn', (c) => void (c.rotation = rotation))}
					/>
				</>
			)}
			{camera.projection === 'perspective' ? (
				<>
					<span className="text-quiet">Opening</span>
					<NumberField
						hideLabel
						label="Opening, upright"
						unit="°"
						step={5}
						min={0.1}
						value={camera.fov}
						onChange={(fov) => change('Opening', (c) => c.projection === 'perspective' && void (c.fov = fov))}
					/>
				</>
			) : (
				<>
					<span className="text-quiet">Height</span>
					<NumberField
						hideLabel
						label="Height of the picture"
						unit="m"
						min={0.001}
						value={camera.height}
						onChange={(height) => change('Height', (c) => c.projection === 'orthographic' && void (c.height = height))}
					/>
				</>
			)}
			<span className="text-quiet">Far</span>
			<NumberField
				hideLabel
				label="Far"
				unit="m"
				min={0.001}
				step={10}
				value={camera.far ?? 1000}
				onChange={(far) => change('Far', (c) => void (c.far = far))}
			/>
			<Button
				className="col-span-2 justify-self-start"
				onClick={() => store.getState().show({ delete: { kind: 'camera', ids: [id] } })}
			>
				Delete the camera
			</Button>
		</fieldset>
	);
}
