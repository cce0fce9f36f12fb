/** The roster: every object, found by name, tag, layer, state or verdict. */
import type { Camera, Project, SceneObject, Verdict } from '@frelk/core';
import { STAGE_WORDS } from '@frelk/core';
import { Camera as CameraMark, EyeOff, Lock } from 'lucide-react';
import { useMemo, useState } from 'react';
import { nameOf } from '../../model/names';
import { useBench, useBenchStore, useDerived } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { Mark } from '../../ui/marks';
import { VirtualRows } from '../../ui/virtual-rows';
import { isHidden, isLocked } from '../edit/objects';
import { Docked } from './docked';
import { found } from './search';

export default function Roster() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const selection = useBench((s) => s.selection);
	const { world, current } = useDerived();
	const [text, setText] = useState('');
	const held = useMemo(() => new Set(selection), [selection]);
	const verdicts = useMemo(() => new Map((current?.verdicts ?? []).map((v) => [v.object, v])), [current]);
	const rows = useMemo(
		() =>
			found(
				project,
				world.objects.map((o) => o.def),
				verdicts,
				text,
			),
		[project, world, verdicts, text],
	);
	const objects = rows.flatMap((row) => (row.kind === 'object' ? [row.object.id] : []));
	const all = project.scene.objects.length + project.scene.cameras.length;
	return (
		<Docked title="Roster" about={`${rows.length} of ${all}`}>
			<input
				data-first
				aria-label="Search objects"
				placeholder="name, tag:gull, layer:walls, jammed, sight"
				className="mb-2 w-full"
				value={text}
				onChange={(event) => setText(event.target.value)}
			/>
			{objects.length > 0 && text !== '' && (
				<Button className="mb-2 self-start" onClick={() => store.getState().pickAll(objects)}>
					Take all {objects.length} in hand
				</Button>
			)}
			{rows.length === 0 && <p className="text-quiet">{all === 0 ? 'The scene is empty.' : 'Nothing is like that.'}</p>}
			<VirtualRows
				items={rows}
				keyOf={(row) => (row.kind === 'object' ? row.object.id : `camera ${row.camera.id}`)}
				height={41}
				label="Objects and cameras"
				className="-mx-2 min-h-0 flex-1"
			>
				{(row) =>
					row.kind === 'object' ? (
						<Row
							object={row.object}
							project={project}
							verdict={verdicts.get(row.object.id)}
							held={held.has(row.object.id)}
						/>
					) : (
						<CameraRow camera={row.camera} project={project} />
					)
				}
			</VirtualRows>
		</Docked>
	);
}

function Row({
	object,
	project,
	verdict,
	held,
}: {
	object: SceneObject;
	project: Project;
	verdict: Verdict | undefined;
	held: boolean;
}) {
	const store = useBenchStore();
	return (
		<button
			type="button"
			aria-pressed={held}
			className={`flex w-full items-center gap-2 px-2 py-0.5 text-left hover:bg-[var(--wash)] ${held ? 'bg-[var(--wash)] font-semibold' : ''}`}
			onClick={(event) => store.getState().pick(object.id, event.shiftKey || event.ctrlKey || event.metaKey)}
			onPointerEnter={() => store.getState().point(object.id)}
			onPointerLeave={() => store.getState().point(null)}
		>
			<Mark stage={verdict?.stage ?? 'layer'} size={10} />
			<span className="min-w-0 flex-1">
				<span className="block truncate">{object.name ?? object.id}</span>
				<span className="block truncate text-[12px] font-normal text-quiet">
					{nameOf(project, 'layer', object.layer)}
					{object.tags?.length ? ` · ${object.tags.join(', ')}` : ''}
				</span>
			</span>
			{isHidden(object) && <EyeOff size={12} aria-label="hidden" />}
			{isLocked(object) && <Lock size={12} aria-label="locked" />}
			{verdict && <span className="text-[12px] font-normal text-quiet">{STAGE_WORDS[verdict.stage]}</span>}
		</button>
	);
}

function CameraRow({ camera, project }: { camera: Camera; project: Project }) {
	const store = useBenchStore();
	const isHeld = useBench((s) => s.camera === camera.id);
	const on = camera.object === undefined ? 'by itself' : `on ${nameOf(project, 'object', camera.object)}`;
	return (
		<button
			type="button"
			aria-pressed={isHeld}
			className={`flex w-full items-center gap-2 px-2 py-0.5 text-left hover:bg-[var(--wash)] ${isHeld ? 'bg-[var(--wash)] font-semibold' : ''}`}
			onClick={() => store.getState().takeCamera(camera.id)}
		>
			<CameraMark size={10} aria-hidden="true" />
			<span className="min-w-0 flex-1">
				<span className="block truncate">{camera.name ?? camera.id}</span>
				<span className="block truncate text-[12px] font-normal text-quiet">camera · {on}</span>
			</span>
		</button>
	);
}
