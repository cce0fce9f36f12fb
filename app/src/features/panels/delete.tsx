/** Deleting: where the thing is used, what would go with it, and what could take its place. */
import type { Project } from '@frelk/core';
import { type ReferenceKind, removeReferences, replaceUses, usesOf, wordsOfUse } from '@frelk/core/editing';
import { useMemo, useState } from 'react';
import { nameOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button, Select } from '../../ui/controls';
import { Dialog } from '../../ui/dialog';

const listOf = (project: Project, kind: ReferenceKind): readonly { id: string; name?: string | undefined }[] =>
	({
		layer: project.scene.layers,
		tag: project.scene.tags,
		side: project.scene.sides ?? [],
		object: project.scene.objects,
		camera: project.scene.cameras,
		query: project.queries,
		moment: project.moments ?? [],
	})[kind];

export default function Delete({ kind, ids }: { kind: ReferenceKind; ids: readonly string[] }) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const [instead, setInstead] = useState('');
	const close = () => store.getState().show(null);
	const uses = useMemo(
		() => ids.flatMap((id) => usesOf(project, kind, id).map((path) => wordsOfUse(project, path))),
		[project, kind, ids],
	);
	const { after, gone } = useMemo(() => {
		const gone: string[] = [];
		const after = ids.reduce((p, id) => removeReferences(p, kind, id, gone), project);
		return { after, gone };
	}, [project, kind, ids]);
	const what = ids.length === 1 ? nameOf(project, kind, ids[0] as string) : `${ids.length} ${kind}s`;
	const others = listOf(project, kind).filter((entry) => !ids.includes(entry.id));
	const put = (next: Project, label: string) => {
		store.getState().put(label, next);
		close();
	};
	return (
		<Dialog title={`Delete ${what}?`} onClose={close}>
			{uses.length === 0 ? (
				<p className="mb-3">Nothing else in the project names {ids.length === 1 ? 'it' : 'them'}.</p>
			) : (
				<>
					<p>
						{uses.length === 1 ? 'One place names' : `${uses.length} places name`} {ids.length === 1 ? 'it' : 'them'}:
					</p>
					<ul aria-label="Where it is used" className="my-2 max-h-48 list-disc overflow-auto pl-6">
						{[...new Set(uses)].map((use) => (
							<li key={use}>{use}</li>
						))}
					</ul>
				</>
			)}
			{gone.length > 0 && (
				<p className="mb-3 border-l-2 border-cut pl-3">
					Without {ids.length === 1 ? 'it' : 'them'} these would have no meaning and go too:{' '}
					{[...new Set(gone)].join(', ')}.
				</p>
			)}
			{uses.length > 0 && others.length > 0 && (
				<p className="mb-3 flex items-center gap-2">
					In its place, use
					<Select
						label="Replacement"
						value={instead}
						options={[{ value: '', label: 'nothing' }, ...others.map((o) => ({ value: o.id, label: o.name ?? o.id }))]}
						onChange={setInstead}
						className="flex-1"
					/>
				</p>
			)}
			<div className="flex gap-2">
				{instead === '' ? (
					<Button className="border-cut! font-semibold text-cut" onClick={() => put(after, `Delete ${what}`)}>
						Delete{gone.length > 0 ? ' all of it' : ''}
					</Button>
				) : (
					<Button
						className="font-semibold"
						onClick={() =>
							put(
								ids.reduce((p, id) => removeReferences(replaceUses(p, kind, id, instead), kind, id), project),
								`Replace ${what}`,
							)
						}
					>
						Replace with {nameOf(project, kind, instead)} and delete
					</Button>
				)}
				<Button onClick={close}>Keep {ids.length === 1 ? 'it' : 'them'}</Button>
			</div>
			<p className="mt-3 text-quiet">Undo brings everything back.</p>
		</Dialog>
	);
}
