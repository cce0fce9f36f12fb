/** The moments: named variations of the scene, recorded by doing. */
import type { Moment, Project } from '@frelk/core';
import { differencesOf, removeDifference } from '@frelk/core/editing';
import { ArrowDown, ArrowUp, Copy, Plus, Trash2, X } from 'lucide-react';
import type { BenchStore } from '../../model/bench-state';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button, Select, TextField } from '../../ui/controls';
import { nameThing } from '../edit/naming';
import { freshId } from '../edit/objects';
import { Docked } from '../panels/docked';
import { wordsOfDifference } from './words';

/** Moments a moment can be laid on without going round in a circle. */
function possibleBases(project: Project, id: string): Moment[] {
	const standsOn = (m: Moment): boolean => {
		for (let at: Moment | undefined = m; at; at = project.moments?.find((o) => o.id === at?.on))
			if (at.id === id) return true;
		return false;
	};
	return (project.moments ?? []).filter((m) => !standsOn(m));
}

function addMoment(store: BenchStore, copy: Moment | null): void {
	let id = '';
	const { moment } = store.getState();
	store.getState().edit(copy ? `Duplicate ${copy.name ?? copy.id}` : 'New moment', (draft) => {
		draft.moments ??= [];
		id = freshId(
			draft.moments.map((m) => m.id),
			copy ? copy.id : 'moment',
		);
		if (copy) draft.moments.push({ ...JSON.parse(JSON.stringify(copy)), id, name: `${copy.name ?? copy.id}, copy` });
		else
			draft.moments.push({
				id,
				name: `Moment ${draft.moments.length + 1}`,
				...(moment === null ? {} : { on: moment }),
			});
	});
	store.getState().lookAt(id);
}

export default function Moments() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const current = useBench((s) => s.moment);
	const moments = project.moments ?? [];
	const change = (label: string, id: string, recipe: (m: Moment) => void) =>
		store.getState().edit(label, (draft) => {
			const target = draft.moments?.find((m) => m.id === id);
			if (target) recipe(target);
		});
	const swap = (i: number, j: number) =>
		store.getState().edit('Order of moments', (draft) => {
			const list = draft.moments ?? [];
			[list[i], list[j]] = [list[j] as Moment, list[i] as Moment];
		});
	return (
		<Docked title="Moments" is="moment">
			<p className="mb-2 text-quiet">
				Look at a moment and change things: what you do goes into the moment, against the scene or the moment it is on.
			</p>
			<Button data-first className="mb-2 self-start" onClick={() => addMoment(store, null)}>
				<Plus size={13} /> New moment{current === null ? '' : ', on the one looked at'}
			</Button>
			<ol aria-label="Moments" className="space-y-2">
				<li>
					<Button
						quiet
						className={`w-full justify-start ${current === null ? 'bg-[var(--wash)] font-semibold' : ''}`}
						aria-pressed={current === null}
						onClick={() => store.getState().lookAt(null)}
					>
						Scene as laid out
					</Button>
				</li>
				{moments.map((m, i) => {
					const differences = differencesOf(project, m.id);
					const here = current === m.id;
					return (
						<li key={m.id} className={`border-l-3 pl-2 ${here ? 'border-l-ink' : 'border-l-line'}`}>
							<div className="flex items-center">
								<TextField
									label={`Name of ${m.name ?? m.id}`}
									className="min-w-0 flex-1 border-transparent! font-semibold"
									value={m.name ?? m.id}
									onCommit={(name) => nameThing(store, 'moment', m.id, name)}
								/>
								<Button
									quiet
									className="px-1.5!"
									aria-label={`Duplicate ${m.name ?? m.id}`}
									onClick={() => addMoment(store, m)}
								>
									<Copy size={12} />
								</Button>
								<Button
									quiet
									className="px-1.5!"
									aria-label={`Delete ${m.name ?? m.id}`}
									onClick={() => store.getState().show({ delete: { kind: 'moment', ids: [m.id] } })}
								>
									<Trash2 size={12} />
								</Button>
							</div>
							<div className="flex flex-wrap items-center gap-1">
								<Button
									aria-pressed={here}
									className={here ? 'border-ink!' : ''}
									onClick={() => store.getState().lookAt(m.id)}
								>
									{here ? 'Looking at it' : 'Look at it'}
								</Button>
								<Select
									label={`${m.name ?? m.id} is on`}
									value={m.on ?? ''}
									options={[
										{ value: '', label: 'on the scene' },
										...possibleBases(project, m.id).map((b) => ({ value: b.id, label: `on ${b.name ?? b.id}` })),
									]}
									onChange={(on) =>
										change('What a moment is on', m.id, (x) => (on === '' ? void delete x.on : void (x.on = on)))
									}
									className="min-w-0 flex-1"
								/>
								<span className="ml-auto flex">
									<Button
										quiet
										className="px-1.5!"
										disabled={i === 0}
										aria-label={`Move ${m.name ?? m.id} up`}
										onClick={() => swap(i, i - 1)}
									>
										<ArrowUp size={12} />
									</Button>
									<Button
										quiet
										className="px-1.5!"
										disabled={i === moments.length - 1}
										aria-label={`Move ${m.name ?? m.id} down`}
										onClick={() => swap(i, i + 1)}
									>
										<ArrowDown size={12} />
									</Button>
								</span>
							</div>
							<ul aria-label={`What ${m.name ?? m.id} changes`} className="mt-1">
								{differences.map((d) => {
									const words = wordsOfDifference(project, d);
									return (
										<li key={`${d.of}${d.id}${d.field}${d.key}`} className="flex items-start gap-1 text-[12px]">
											<span className="min-w-0 flex-1 break-words">{words}</span>
											<Button
												quiet
												className="px-1.5!"
												aria-label={`Take out: ${words}`}
												onClick={() =>
													store
														.getState()
														.editPlain('Take a difference out', (draft) => removeDifference(draft, m.id, d))
												}
											>
												<X size={11} />
											</Button>
										</li>
									);
								})}
								{differences.length === 0 && (
									<li className="text-[12px] text-quiet">Nothing yet: the same as what it is on.</li>
								)}
							</ul>
						</li>
					);
				})}
			</ol>
		</Docked>
	);
}
