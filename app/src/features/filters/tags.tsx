/** Tags as families: one put under another, with what carries and what asks for each. */
import { slug } from '@frelk/core';
import { replaceUses } from '@frelk/core/editing';
import { Trash2 } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button, Select, TextField } from '../../ui/controls';
import { Adder, Counts } from './parts';
import { tagUse } from './table';

export function Tags() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const { tags } = project.scene;
	const [dragged, setDragged] = useState<string | null>(null);
	const [over, setOver] = useState<string | null>(null);
	const standsUnder = (id: string, upper: string): boolean => {
		for (let at: string | undefined = id; at !== undefined; at = tags.find((t) => t.id === at)?.under)
			if (at === upper) return true;
		return false;
	};
	const putUnder = (id: string, upper: string | null) => {
		if (upper !== null && standsUnder(upper, id)) {
			if (upper !== id) store.getState().refuse(`${upper} stands under ${id}; a family cannot go round in a circle.`);
			return;
		}
		store.getState().edit(`Family of ${id}`, (draft) => {
			const tag = draft.scene.tags.find((t) => t.id === id);
			if (!tag) return;
			if (upper === null) delete tag.under;
			else tag.under = upper;
		});
	};
	const rename = (id: string, wish: string) => {
		const to = slug(wish, 64);
		if (to === '' || to === id) return;
		if (tags.some((t) => t.id === to)) {
			store.getState().refuse(`There is a tag ${to} already.`);
			return;
		}
		const next = replaceUses(project, 'tag', id, to);
		const tag = next.scene.tags.find((t) => t.id === id);
		if (tag) tag.id = to;
		store.getState().put(`Rename the tag ${id}`, next);
	};
	const rows = (under: string | undefined, depth: number): ReactNode =>
		tags
			.filter((t) => t.under === under)
			.map((tag) => {
				const { carriedBy, askedBy } = tagUse(project, tag.id);
				return (
					<li key={tag.id}>
						{/* biome-ignore lint/a11y/noStaticElementInteractions: dragging is a short cut; the list beside does the same by keyboard */}
						<div
							draggable
							className={`grid cursor-grab grid-cols-[minmax(9rem,1fr)_6.5rem_minmax(0,1fr)_7rem_auto] items-center gap-2 border-t py-0.5 ${over === tag.id ? 'bg-[var(--wash)]' : ''}`}
							style={{ paddingLeft: depth * 18 }}
							onDragStart={(event) => {
								setDragged(tag.id);
								event.dataTransfer.setData('text/plain', tag.id);
							}}
							onDragOver={(event) => {
								event.preventDefault();
								event.stopPropagation();
								setOver(tag.id);
							}}
							onDragLeave={() => setOver(null)}
							onDrop={(event) => {
								event.preventDefault();
								event.stopPropagation();
								setOver(null);
								if (dragged !== null) putUnder(dragged, tag.id);
								setDragged(null);
							}}
						>
							<TextField
								label={`Id of the tag ${tag.id}`}
								className="figure border-transparent!"
								value={tag.id}
								onCommit={(wish) => rename(tag.id, wish)}
							/>
							<Counts carried={carriedBy} asked={askedBy} project={project} />
							<Select
								label={`${tag.id} stands under`}
								value={tag.under ?? ''}
								options={[
									{ value: '', label: 'no other' },
									...tags
										.filter((t) => !standsUnder(t.id, tag.id))
										.map((t) => ({ value: t.id, label: `under ${t.id}` })),
								]}
								onChange={(upper) => putUnder(tag.id, upper === '' ? null : upper)}
							/>
							<Button
								quiet
								className="px-1.5!"
								aria-label={`Delete the tag ${tag.id}`}
								onClick={() => store.getState().show({ delete: { kind: 'tag', ids: [tag.id] } })}
							>
								<Trash2 size={11} />
							</Button>
						</div>
						<ul>{rows(tag.id, depth + 1)}</ul>
					</li>
				);
			});
	return (
		<section
			aria-label="Tag families"
			onDragOver={(event) => event.preventDefault()}
			onDrop={() => {
				if (dragged !== null) putUnder(dragged, null);
				setDragged(null);
			}}
		>
			<h3 className="text-[15px] font-semibold">Tags as families</h3>
			<p className="text-[12px] text-quiet">
				A filter on the upper tag takes the lower ones too. Drag a tag onto another to put it under that one.
			</p>
			{tags.length === 0 && <p className="text-quiet">No tag yet.</p>}
			<ul>{rows(undefined, 0)}</ul>
			<Adder
				label="New tag"
				onAdd={(id) =>
					tags.some((t) => t.id === id)
						? store.getState().refuse(`There is a tag ${id} already.`)
						: store.getState().edit('New tag', (draft) => void draft.scene.tags.push({ id }))
				}
			/>
		</section>
	);
}
