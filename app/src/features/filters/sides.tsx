/** Sides, and how each regards the others. */
import type { Stance } from '@frelk/core';
import { Trash2 } from 'lucide-react';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button, Select, TextField } from '../../ui/controls';
import { nameThing } from '../edit/naming';
import { Adder } from './parts';

const STANCES: readonly Stance[] = ['hostile', 'neutral', 'friendly'];

export function Sides() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const sides = project.scene.sides ?? [];
	const stances = project.scene.stances ?? [];
	const set = (from: string, to: string, stance: Stance | '') =>
		store.getState().edit('Stance', (draft) => {
			const rest = (draft.scene.stances ?? []).filter((s) => s.from !== from || s.to !== to);
			draft.scene.stances = stance === '' ? rest : [...rest, { from, to, stance }];
		});
	return (
		<section aria-label="Sides and stances" className="mb-6">
			<h3 className="text-[15px] font-semibold">Sides and stances</h3>
			{sides.length === 0 ? (
				<p className="text-quiet">No side yet: without sides every object is neutral to every other.</p>
			) : (
				<table>
					<thead>
						<tr>
							<th className="pr-3 text-left font-normal text-quiet">regards</th>
							{sides.map((side) => (
								<th key={side.id} scope="col" className="px-1 text-left">
									{side.name ?? side.id}
								</th>
							))}
							<th className="px-2 font-normal text-quiet">objects</th>
						</tr>
					</thead>
					<tbody>
						{sides.map((from) => (
							<tr key={from.id} className="border-t">
								<th scope="row" className="pr-3 text-left">
									<TextField
										label={`Name of the side ${from.name ?? from.id}`}
										className="border-transparent! font-semibold"
										value={from.name ?? from.id}
										onCommit={(name) => nameThing(store, 'side', from.id, name)}
									/>
								</th>
								{sides.map((to) => (
									<td key={to.id} className="px-1 py-0.5">
										<Select<Stance | ''>
											label={`${from.name ?? from.id} regards ${to.name ?? to.id} as`}
											value={stances.find((s) => s.from === from.id && s.to === to.id)?.stance ?? ''}
											options={[
												{ value: '' as const, label: from.id === to.id ? '(friendly)' : '(neutral)' },
												...STANCES.map((s) => ({ value: s, label: s })),
											]}
											onChange={(stance) => set(from.id, to.id, stance)}
										/>
									</td>
								))}
								<td className="px-2 text-center text-quiet">
									{project.scene.objects.filter((o) => o.side === from.id).length}
								</td>
								<td>
									<Button
										quiet
										className="px-1.5!"
										aria-label={`Delete the side ${from.name ?? from.id}`}
										onClick={() => store.getState().show({ delete: { kind: 'side', ids: [from.id] } })}
									>
										<Trash2 size={11} />
									</Button>
								</td>
							</tr>
						))}
					</tbody>
				</table>
			)}
			<Adder
				label="New side"
				onAdd={(id, text) =>
					sides.some((s) => s.id === id)
						? store.getState().refuse(`There is a side ${id} already.`)
						: store
								.getState()
								.edit(
									'New side',
									(draft) => void (draft.scene.sides = [...(draft.scene.sides ?? []), { id, name: text }]),
								)
				}
			/>
		</section>
	);
}
