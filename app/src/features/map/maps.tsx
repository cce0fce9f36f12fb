/** Kept maps: each asked in a worker, those with trouble first; one of them large, or held against another. */
import { type Project, type QueryMap, slug } from '@frelk/core';
import { type MapResult, MIN_TARGET } from '@frelk/core/maps';
import { useEffect, useState } from 'react';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { mapIn } from '../../workers/client';
import { CompareMaps } from './compare-maps';
import { firstMapOf } from './kinds';
import { MapShown } from './map-shown';

/** What is wrong with a map, in figures. */
interface Trouble {
	small: number;
	never: number;
	tied: number;
}

const troubleOf = ({ figures }: MapResult): Trouble => ({
	small: figures.objects.filter((o) => o.circle !== null && o.circle < MIN_TARGET).length,
	never: figures.never.length,
	tied: figures.tied,
});

const weight = ({ small, never, tied }: Trouble): number => small + never + (tied > 0 ? 1 : 0);

const wordsOf = ({ small, never, tied }: Trouble): string =>
	[
		...(small > 0 ? [`${small} under ${MIN_TARGET} px`] : []),
		...(tied > 0 ? [`${Number((100 * tied).toFixed(2))} % tied`] : []),
		...(never > 0 ? [`${never} never selected`] : []),
	].join(' · ') || 'nothing to mend';

/** Results of the maps of a project, one after the other; null for what is not there yet. */
function useResults(project: Project) {
	const [results, setResults] = useState<ReadonlyMap<string, MapResult>>(new Map());
	const [doing, setDoing] = useState<{ map: string; done: number; of: number } | null>(null);
	const [trouble, setTrouble] = useState<string | null>(null);
	const [stopped, setStopped] = useState(false);
	const [running, setRunning] = useState<{ cancel: () => void } | null>(null);
	useEffect(() => {
		let over = false;
		let job: ReturnType<typeof mapIn> | null = null;
		const run = async () => {
			setTrouble(null);
			setStopped(false);
			for (const map of project.maps ?? []) {
				if (over) return;
				job = mapIn(project, map, (done, of) => !over && setDoing({ map: map.id, done, of }));
				setRunning(job);
				try {
					const found = await job.done;
					if (over) return;
					setResults((before) => new Map(before).set(map.id, found));
				} catch (error) {
					if (over) return;
					if (job.cancelled()) {
						setStopped(true);
						break;
					}
					setTrouble(`${map.name ?? map.id}: ${error instanceof Error ? error.message : String(error)}`);
				}
			}
			setDoing(null);
		};
		void run();
		return () => {
			over = true;
			job?.cancel();
		};
	}, [project]);
	return { results, doing, trouble, stopped, stop: () => running?.cancel() };
}

export default function Maps() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const open = useBench((s) => s.query);
	const maps = project.maps ?? [];
	const [chosen, setChosen] = useState<string | null>(null);
	const [comparing, setComparing] = useState(false);
	const { results, doing, trouble, stopped, stop } = useResults(project);
	const known = (map: QueryMap) => results.get(map.id);
	const sorted = maps.toSorted((a, b) => {
		const [x, y] = [known(a), known(b)];
		return (y ? weight(troubleOf(y)) : -1) - (x ? weight(troubleOf(x)) : -1);
	});
	// The one that was shown first stays, though others turn out to be worse.
	const map = maps.find((m) => m.id === chosen) ?? maps[0];
	const query = project.queries.find((q) => q.id === open);
	const fresh = query ? firstMapOf(project, query) : null;
	const add = () => {
		if (!query || !fresh) return;
		const base = slug(`${query.id} map`) || 'map';
		let id = base;
		for (let n = 2; maps.some((m) => m.id === id); n++) id = `${base}-${n}`;
		const made = { id, name: `${query.name ?? query.id}, map`, ...fresh } as QueryMap;
		store.getState().editPlain('New map', (draft) => void (draft.maps = [...(draft.maps ?? []), made]));
		setChosen(id);
	};
	const result = map && known(map);
	return (
		<section aria-label="Maps" className="p-4">
			<div className="mb-3 flex flex-wrap items-center gap-2">
				{query && (
					<Button
						disabled={!fresh}
						title={fresh ? undefined : 'A map asks a pick, a query with an asker, or a ray or sweep along a direction'}
						onClick={add}
					>
						New map of {query.name ?? query.id}
					</Button>
				)}
				{map && (
					<>
						<Button aria-pressed={comparing} onClick={() => setComparing(!comparing)}>
							Compare…
						</Button>
						<Button
							quiet
							onClick={() =>
								store.getState().editPlain('Delete a map', (draft) => {
									draft.maps = draft.maps?.filter((m) => m.id !== map.id);
									draft.checks = draft.checks?.filter((c) => !('map' in c) || c.map !== map.id);
								})
							}
						>
							Delete it
						</Button>
					</>
				)}
				<p role="status" className="flex items-center gap-2 text-[12.5px] text-quiet">
					{trouble ??
						(doing
							? `Asking ${maps.find((m) => m.id === doing.map)?.name ?? doing.map}: row ${doing.done} of ${doing.of}`
							: stopped
								? 'It was stopped.'
								: '')}
					{doing && <Button onClick={stop}>Stop</Button>}
				</p>
			</div>
			{maps.length > 1 && (
				<ul aria-label="Kept maps, those with most to mend first" className="mb-3 flex flex-wrap gap-2">
					{sorted.map((m) => {
						const of = known(m);
						return (
							<li key={m.id}>
								<button
									type="button"
									aria-pressed={m.id === map?.id}
									className={`rounded-[3px] border px-3 py-1 text-left ${m.id === map?.id ? 'border-ink bg-[var(--wash)]' : 'hover:bg-[var(--wash)]'}`}
									onClick={() => setChosen(m.id)}
								>
									<span className="block font-semibold">{m.name ?? m.id}</span>
									<span className="block text-[12px] text-quiet">{of ? wordsOf(troubleOf(of)) : '…'}</span>
								</button>
							</li>
						);
					})}
				</ul>
			)}
			{map ? (
				comparing && result ? (
					<CompareMaps key={map.id} map={map} result={result} />
				) : result ? (
					<MapShown key={map.id} map={map} result={result} />
				) : null
			) : (
				<p className="text-quiet">
					No map yet. A map asks one query for the whole screen, for every place to stand or for every direction, and
					shows what is never selected, too small to hit, or tied. Open a query on the bench, and make one.
				</p>
			)}
		</section>
	);
}
