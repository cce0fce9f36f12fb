/** What a run is made of: how long, in what steps, what is watched and how it remembers, what is pressed and swung. */
import type { Press, Project, Run, WatchEntry } from '@frelk/core';
import { lastStep, watchId } from '@frelk/core';
import { Plus, X } from 'lucide-react';
import { nameOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button, NumberField, Select, TextField } from '../../ui/controls';
import { freshId } from '../edit/objects';
import { editRun } from './keys-view';
import { seconds } from './transport';

const MEMORIES = [
	{ value: 'all', label: 'the answer’s own' },
	{ value: 'stick', label: 'sticks to what it has' },
	{ value: 'own', label: 'one slot, forgets its own' },
	{ value: 'any', label: 'one slot, forgets any' },
	{ value: 'lock', label: 'a lock, until it is let go' },
] as const;
/** What a hold begins with, seconds. */
const HOLD = 0.5;
const LOCK_WORDS = {
	lock: 'take the lock',
	next: 'next on the right',
	previous: 'next on the left',
	release: 'let go',
};
type MemoryKind = (typeof MEMORIES)[number]['value'];

const memoryOf = (entry: WatchEntry): MemoryKind =>
	entry.keeps === 'lock' ? 'lock' : entry.keeps === 'one' ? (entry.forgets ?? 'own') : entry.stick ? 'stick' : 'all';

/** The memory of a watch entry in words. */
export const memoryWords = (entry: WatchEntry): string => {
	if (entry.keeps === 'one')
		return entry.forgets === 'any' ? 'one slot, emptied by any that leaves' : 'one slot, emptied by its own';
	if (entry.keeps === 'lock')
		return entry.patience
			? `a lock, let go after ${entry.patience} s out of the running`
			: 'a lock, let go when out of the running';
	if (!entry.stick) return 'the answer’s own';
	return `sticks within ${Object.entries(entry.stick)
		.map(([rule, limit]) =>
			`${limit} ${rule === 'distance' ? 'm' : rule === 'aim' ? '°' : rule === 'cursor' ? 'px' : ''}`.trim(),
		)
		.join(', ')}`;
};

export function withMemory({ id, query, late }: WatchEntry, kind: MemoryKind, limit = 0.3): WatchEntry {
	const plain = { ...(id === undefined ? {} : { id }), query, ...(late === undefined ? {} : { late }) };
	if (kind === 'lock') return { ...plain, keeps: 'lock', patience: limit };
	if (kind === 'stick') return { ...plain, stick: { distance: limit } };
	return kind === 'all' ? plain : { ...plain, keeps: 'one', forgets: kind };
}

export function Entries({ run, at }: { run: Run; at: number }) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const change = (label: string, recipe: (run: Run) => Run) => editRun(store, run.id, label, recipe);
	const watch = run.watch ?? [];
	const hitboxes = project.queries.filter((q) => q.kind === 'hitbox');
	const press = (id: string, more: Partial<Press>, label = 'Press') =>
		change(`${label} ${id}`, (r) => ({
			...r,
			presses: [...(r.presses ?? []), { watch: id, at: Number(at.toFixed(6)), ...more }],
		}));
	const put = (i: number, entry: WatchEntry | null) =>
		change('What is watched', (r) => ({
			...r,
			watch: (r.watch ?? []).flatMap((w, k) => (k === i ? (entry ? [entry] : []) : [w])),
			// What is pressed is watched.
			...(entry ? {} : { presses: (r.presses ?? []).filter((p) => p.watch !== watchId(watch[i] as WatchEntry)) }),
			// Nothing acts on a lock that is none any more.
			...(entry && entry.keeps !== 'lock' && r.presses
				? { presses: r.presses.filter((p) => p.do === undefined || p.watch !== watchId(entry)) }
				: {}),
		}));
	return (
		<div className="space-y-3 p-3">
			<div className="grid grid-cols-[5rem_minmax(0,1fr)] items-center gap-x-2 gap-y-1">
				<span className="text-quiet">Name</span>
				<TextField
					label="Name of the run"
					value={run.name ?? run.id}
					onCommit={(name) => change('Name', (r) => ({ ...r, name: name.trim() || r.id }))}
				/>
				<span className="text-quiet">Starts from</span>
				<Select
					label="Starts from"
					value={run.moment ?? ''}
					options={[
						{ value: '', label: 'scene as laid out' },
						...(project.moments ?? []).map((m) => ({ value: m.id, label: m.name ?? m.id })),
					]}
					onChange={(moment) => change('Moment', ({ moment: _, ...r }) => (moment === '' ? r : { ...r, moment }))}
				/>
				<span className="text-quiet">Lasts</span>
				<NumberField
					hideLabel
					label="Lasts"
					unit="s"
					min={0}
					step={0.5}
					value={run.duration}
					onChange={(duration) => change('Duration', (r) => ({ ...r, duration }))}
				/>
				<span className="text-quiet">Step</span>
				<NumberField
					hideLabel
					label="Step"
					unit="s"
					min={0.0001}
					step={0.01}
					value={run.step}
					onChange={(step) => change('Step', (r) => ({ ...r, step }))}
				/>
				<span className="text-quiet">Between</span>
				<NumberField
					hideLabel
					label="Instants looked at in a step"
					step={1}
					min={1}
					value={run.between ?? 8}
					onChange={(n) => change('Between', (r) => ({ ...r, between: Math.max(1, Math.min(64, Math.round(n))) }))}
				/>
			</div>
			<section aria-label="Watched">
				<h3 className="font-semibold">Watched</h3>
				<ul>
					{watch.map((entry, i) => {
						const id = watchId(entry);
						const kind = memoryOf(entry);
						return (
							<li key={id} className="border-t py-1">
								<div className="flex items-center gap-1">
									<span className="min-w-0 flex-1 truncate font-semibold">{id}</span>
									<Button title="A press falls at the instant looked at" onClick={() => press(id, {})}>
										Press at {seconds(at)}
									</Button>
									<Button quiet className="px-1.5!" aria-label={`Watch ${id} no more`} onClick={() => put(i, null)}>
										<X size={12} />
									</Button>
								</div>
								<Select
									label={`Press ${id} otherwise`}
									className="my-1 w-full"
									value=""
									options={[
										{ value: '', label: `press otherwise at ${seconds(at)}…` },
										{ value: 'hold', label: `hold for ${HOLD} s` },
										...(kind === 'lock'
											? (['lock', 'next', 'previous', 'release'] as const).map((what) => ({
													value: what,
													label: LOCK_WORDS[what],
												}))
											: []),
									]}
									onChange={(what) =>
										what === 'hold'
											? press(id, { hold: HOLD }, 'Hold')
											: what !== '' && press(id, { do: what as NonNullable<Press['do']> }, LOCK_WORDS[what as 'lock'])
									}
								/>
								{(run.presses ?? []).map(
									(one, j) =>
										one.watch === id &&
										one.hold !== undefined && (
											<NumberField
												// biome-ignore lint/suspicious/noArrayIndexKey: presses have no other name
												key={j}
												label={`Held from ${seconds(one.at)}`}
												unit="s"
												min={0.01}
												step={0.1}
												value={one.hold}
												onChange={(hold) =>
													change('How long it is held', (r) => ({
														...r,
														presses: (r.presses ?? []).map((p, k) => (k === j ? { ...p, hold } : p)),
													}))
												}
											/>
										),
								)}
								<div className="flex items-center gap-1">
									<Select
										label={`Memory of ${id}`}
										className="min-w-0 flex-1"
										value={kind}
										options={MEMORIES}
										onChange={(next) => put(i, withMemory(entry, next))}
									/>
									{kind === 'lock' && (
										<NumberField
											hideLabel
											label={`Patience, ${id}`}
											className="w-20"
											unit="s"
											min={0}
											step={0.1}
											value={entry.patience ?? 0}
											onChange={(patience) => put(i, { ...entry, patience })}
										/>
									)}
									{kind === 'stick' && (
										<NumberField
											hideLabel
											label={`Sticks within, ${id}`}
											className="w-20"
											unit="m"
											min={0}
											value={entry.stick?.distance ?? 0}
											onChange={(distance) => put(i, { ...entry, stick: { ...entry.stick, distance } })}
										/>
									)}
								</div>
								<NumberField
									label="Sees it late by"
									unit="s"
									min={0}
									step={0.01}
									value={entry.late ?? 0}
									onChange={(late) => {
										const { late: _, ...rest } = entry;
										put(i, late > 0 ? { ...rest, late } : rest);
									}}
								/>
							</li>
						);
					})}
				</ul>
				<Select
					label="Watch a query"
					className="mt-1 w-full"
					value=""
					options={[
						{ value: '', label: 'watch a query…' },
						...project.queries.map((q) => ({ value: q.id, label: q.name ?? q.id })),
					]}
					onChange={(query) => query !== '' && change('Watch', (r) => watching(r, query))}
				/>
			</section>
			{hitboxes.length > 0 && (
				<section aria-label="Swings">
					<h3 className="font-semibold">Swings</h3>
					{hitboxes.map((q) => (
						<Button
							key={q.id}
							onClick={() =>
								change(`Swing ${q.name ?? q.id}`, (r) => ({
									...r,
									swings: [...(r.swings ?? []), { query: q.id, at: Number(at.toFixed(6)) }],
								}))
							}
						>
							<Plus size={12} /> {q.name ?? q.id} at {seconds(at)}
						</Button>
					))}
				</section>
			)}
			<p className="text-[12px] text-quiet">
				{lastStep(run) + 1} steps. What you move on the stage gets a key at the instant looked at. Keys, swings and
				presses are pulled under the lanes; Delete takes one out.
			</p>
			<Button onClick={() => removeRun(store.getState().project, run.id, store.getState().put)}>Delete this run</Button>
		</div>
	);
}

/** A run that watches one more query, under an id that is free there. */
export function watching(run: Run, query: string): Run {
	const known = (run.watch ?? []).map(watchId);
	const id = freshId(known, query);
	return { ...run, watch: [...(run.watch ?? []), id === query ? { query } : { id, query }] };
}

/** Takes a run out, with the checks that hold it. */
function removeRun(project: Project, id: string, put: (label: string, project: Project) => void): void {
	const checks = project.checks?.filter((c) => !('run' in c) || c.run !== id);
	put(`Delete ${project.runs?.find((r) => r.id === id)?.name ?? id}`, {
		...project,
		runs: (project.runs ?? []).filter((r) => r.id !== id),
		...(checks ? { checks } : {}),
	});
}

/** A new run of a few seconds that watches a query. @returns the project, and the id of the run */
export function withNewRun(project: Project, query: string | null): { project: Project; id: string } {
	const runs = project.runs ?? [];
	const of = query === null ? null : nameOf(project, 'query', query);
	const id = freshId(
		runs.map((r) => r.id),
		of === null ? 'run' : `${of} over time`,
	);
	const blank: Run = {
		id,
		name: of === null ? `Run ${runs.length + 1}` : `${of} over time`,
		duration: 4,
		step: 1 / 60,
	};
	return { project: { ...project, runs: [...runs, query === null ? blank : watching(blank, query)] }, id };
}
