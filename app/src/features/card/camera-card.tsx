/** The card of a camera in hand: where it hangs, how it looks, and what looks through it. */
import type { World } from '@frelk/core';
import { PanelLeft, PanelRight, X } from 'lucide-react';
import { editQuery } from '../../model/store';
import { queryIn, useBench, useBenchStore, useWorld } from '../../model/use-bench';
import { Button, Select } from '../../ui/controls';
import { aimCamera } from '../edit/cameras';
import { CameraEditor } from '../sentence/editors/camera';
import { CardFrame } from './frame';
import { IdField, Label } from './parts';

export default function CameraCard({ id, side }: { id: string; side: 'queries' | 'ladder' }) {
	const store = useBenchStore();
	const world = useWorld();
	const query = useBench(queryIn);
	const through = useBench((s) => s.through);
	const camera = world.cameras.get(id);
	if (!camera) return null;
	const name = camera.def.name ?? id;
	const asks = query?.kind === 'pick' && query.camera === id;
	return (
		<CardFrame label={`Card: ${name}`} side={side}>
			<header className="mb-1 flex items-center gap-1">
				<h2 className="min-w-0 flex-1 truncate font-semibold">{name}</h2>
				<span className="text-quiet">camera</span>
				<Button
					quiet
					className="px-1.5!"
					aria-label={side === 'ladder' ? 'Put the card over the queries' : 'Put the card beside the ladder'}
					onClick={() => store.getState().dockCard(side === 'ladder' ? 'queries' : 'ladder')}
				>
					{side === 'ladder' ? <PanelLeft size={14} /> : <PanelRight size={14} />}
				</Button>
				<Button
					quiet
					className="px-1.5!"
					aria-label="Put the card away"
					onClick={() => store.getState().takeCamera(null)}
				>
					<X size={14} />
				</Button>
			</header>
			<div className="flex flex-wrap gap-1">
				<Button
					aria-pressed={through === id}
					className={through === id ? 'border-ink! font-semibold' : ''}
					onClick={() => store.getState().lookThrough(through === id ? null : id)}
				>
					{through === id ? 'The eye looks through it' : 'Look through it'}
				</Button>
				{query?.kind === 'pick' && !asks && (
					<Button
						onClick={() => {
							editQuery(store, 'Camera', (q) => q.kind === 'pick' && void (q.camera = id));
							store.getState().lookThrough(null);
						}}
					>
						Ask {query.name ?? query.id} through it
					</Button>
				)}
			</div>
			<CameraEditor id={id} />
			<div className="mt-1 grid grid-cols-[4.6rem_minmax(0,1fr)] items-center gap-x-2 gap-y-1">
				{!world.flat && <LookAt id={id} world={world} />}
				<Label>Id</Label>
				<IdField kind="camera" id={id} />
			</div>
		</CardFrame>
	);
}

/** Aims it at the focus of an object. */
function LookAt({ id, world }: { id: string; world: World }) {
	const store = useBenchStore();
	const camera = world.cameras.get(id);
	return (
		<>
			<Label>Look at</Label>
			<Select
				label="Aim it at an object"
				value=""
				options={[
					{ value: '', label: 'an object…' },
					...world.objects.filter((o) => o !== camera?.object).map((o) => ({ value: o.id, label: o.def.name ?? o.id })),
				]}
				onChange={(object) => {
					const at = world.objectById.get(object)?.focus;
					if (!at || !camera) return;
					const { position } = camera;
					store
						.getState()
						.edit(`Aim ${camera.def.name ?? id}`, (draft) =>
							aimCamera(draft, world, id, [at[0] - position[0], at[1] - position[1], at[2] - position[2]]),
						);
				}}
			/>
		</>
	);
}
