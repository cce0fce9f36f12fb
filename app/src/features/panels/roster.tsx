/** The roster: every object, found by name, tag, layer, state or verdict. */
import type { Project, SceneObject, Verdict } from '@frelk/core';
import { STAGE_WORDS } from '@frelk/core';
import { EyeOff, Lock } from 'lucide-react';
import { useMemo, useState } from 'react';
import { nameOf } from '../../model/names';
import { useBench, useBenchStore, useDerived } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { Dialog } from '../../ui/dialog';
import { Mark } from '../../ui/marks';
import { VirtualRows } from '../../ui/virtual-rows';
import { isHidden, isLocked } from '../edit/objects';
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
	return (
		<Dialog
			title="Roster"
			about={`${rows.length} of ${project.scene.objects.length}`}
			side
			onClose={() => store.getState().show(null)}
		>
			<input
				data-first
				aria-label="Search objects"
				placeholder="name, tag:gull, layer:walls, jammed, sight"
				className="mb-2 w-full"
				value={text}
				onChange={(event) => setText(event.target.value)}
			/>
			{rows.length > 0 && text !== '' && (
				<Button className="mb-2" onClick={() => store.getState().pickAll(rows.map((o) => o.id))}>
					Take all {rows.length} in hand
				</Button>
			)}
			{rows.length === 0 && (
				<p className="text-quiet">
					{project.scene.objects.length === 0 ? 'The scene is empty.' : 'No object is like that.'}
				</p>
			)}
			<VirtualRows
				items={rows}
				keyOf={(o) => o.id}
				height={41}
				label="Objects"
				className={`-mx-2 ${text === '' ? 'h-[calc(100vh-10.6rem)]' : 'h-[calc(100vh-13rem)]'}`}
			>
				{(o) => <Row object={o} project={project} verdict={verdicts.get(o.id)} held={held.has(o.id)} />}
			</VirtualRows>
		</Dialog>
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
