/** Kept maps: each asked in a worker, drawn, with what each object has of it, and what is never selected and why. */
import { CELL, type MapResult, type Project, type Query, type QueryMap, STAGE_WORDS, slug } from '@frelk/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { nameOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button, Select } from '../../ui/controls';
import { useTheme } from '../../ui/theme';
import { useSize } from '../../ui/use-size';
import { mapIn } from '../../workers/client';
import { keepFigure } from './keep';
import { drawMap, shownAt, toneOfObject } from './map-picture';

/** Under this a target is too small to be hit surely (WCAG 2.2). */
const LEAST_TARGET = 24;

/** A first map of a query: what can be asked of it, wide enough to come at once. */
function firstMap(query: Query, project: Project): Omit<QueryMap, 'id' | 'name'> | null {
	if (query.kind === 'pick')
		return { query: query.id, kind: 'cursor', cell: Math.max(1, Math.ceil(Math.max(...query.viewport) / 160)) };
	if (query.asker !== undefined) {
		const at = project.scene.objects.find((o) => o.id === query.asker)?.position ?? [0, 0, 0];
		const [u, v] = project.scene.kind === 'flat' ? [at[0], at[1]] : [at[0], at[2]];
		const round = (x: number) => Math.round(x * 2) / 2;
		return {
			query: query.id,
			kind: 'floor',
			area: { min: [round(u - 5), round(v - 5)], max: [round(u + 5), round(v + 5)] },
			every: 0.5,
			headings: 8,
		};
	}
	if ((query.kind === 'ray' || query.kind === 'sweep') && query.aim?.along && project.scene.kind === 'space')
		return { query: query.id, kind: 'aim', yaw: [-60, 60], pitch: [-40, 40], every: 2 };
	return null;
}

export default function Maps() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const open = useBench((s) => s.query);
	const maps = project.maps ?? [];
	const [chosen, setChosen] = useState<string | null>(null);
	const map = maps.find((m) => m.id === chosen) ?? maps[0];
	const query = project.queries.find((q) => q.id === open);
	const fresh = query ? firstMap(query, project) : null;
	const add = () => {
		if (!query || !fresh) return;
		const base = slug(`${query.id} map`) || 'map';
		let id = base;
		for (let n = 2; maps.some((m) => m.id === id); n++) id = `${base}-${n}`;
		const made = { id, name: `${query.name ?? query.id}, map`, ...fresh } as QueryMap;
		store.getState().editPlain('New map', (draft) => void (draft.maps = [...(draft.maps ?? []), made]));
		setChosen(id);
	};
	return (
		<section aria-label="Maps" className="p-4">
			<div className="mb-3 flex flex-wrap items-center gap-2">
				{maps.length > 0 && map && (
					<Select
						label="Map"
						value={map.id}
						options={maps.map((m) => ({ value: m.id, label: m.name ?? m.id }))}
						onChange={setChosen}
					/>
				)}
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
				)}
			</div>
			{map ? (
				<Shown key={map.id} map={map} />
			) : (
				<p className="text-quiet">
					No map yet. A map asks one query for the whole screen, for every place to stand or for every direction, and
					shows what is never selected, too small to hit, or tied. Open a query on the bench, and make one.
				</p>
			)}
		</section>
	);
}

function Shown({ map }: { map: QueryMap }) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const key = useBench((s) => s.key);
	const navigate = useNavigate();
	const [result, setResult] = useState<MapResult | null>(null);
	const [done, setDone] = useState<[number, number] | null>(null);
	const [trouble, setTrouble] = useState<string | null>(null);
	const [lit, setLit] = useState<number | null>(null);
	const [heading, setHeading] = useState<number | null>(null);
	const cancel = useRef(() => {});
	useEffect(() => {
		let over = false;
		setTrouble(null);
		const job = mapIn(project, map.id, (at, of) => !over && setDone([at, of]));
		cancel.current = () => {
			job.cancel();
			setTrouble('It was stopped.');
			setDone(null);
		};
		job.done.then(
			(found) => {
				if (over) return;
				setResult(found);
				setDone(null);
			},
			(error) => !over && !job.cancelled() && setTrouble(error instanceof Error ? error.message : String(error)),
		);
		return () => {
			over = true;
			job.cancel();
		};
	}, [project, map.id]);
	const canvas = useRef<HTMLCanvasElement>(null);
	const host = useRef<HTMLDivElement>(null);
	const { w } = useSize(host, 700);
	const dark = useTheme() === 'dark';
	const block = result
		? Math.max(1, Math.min(24, Math.floor(Math.min(w - 4, 900) / result.columns), Math.floor(560 / result.rows)))
		: 1;
	useEffect(() => {
		if (canvas.current && result) drawMap(canvas.current, result, block, heading, lit, dark);
	}, [result, block, heading, lit, dark]);
	const name = (id: string) => nameOf(project, 'object', id);
	const placeOf = useMemo(() => new Map(result?.objects.map((id, i) => [id, i])), [result]);
	/** The query, at the moment the map is of. */
	const openQuery = () => {
		store.getState().open(map.query);
		store.getState().lookAt(map.moment ?? null);
	};
	const kept = new Set(
		(project.checks ?? []).flatMap((c) => ('map' in c && c.map === map.id ? [c.expect.object] : [])),
	);
	/** Opens the bench with the cursor, or the asker, just there. */
	const goTo = (i: number, j: number) => {
		openQuery();
		if (map.kind === 'cursor') {
			const cell = map.cell ?? 4;
			store.getState().edit('Cursor from a map', (draft) => {
				const q = draft.queries.find((one) => one.id === map.query);
				if (q?.kind === 'pick') q.cursor = [(i + 0.5) * cell, (j + 0.5) * cell];
			});
		} else if (map.kind === 'floor') {
			const every = map.every ?? 1;
			const [u, v] = [(map.area?.min[0] ?? 0) + i * every, (map.area?.min[1] ?? 0) + j * every];
			store.getState().edit('Stand where a map says', (draft) => {
				const q = draft.queries.find((one) => one.id === map.query);
				const asker = draft.scene.objects.find((o) => o.id === q?.asker);
				if (!asker || asker.parent !== undefined) return;
				const at = asker.position ?? [0, 0, 0];
				asker.position = draft.scene.kind === 'flat' ? [u, v, at[2]] : [u, map.y ?? at[1], v];
				if (heading !== null)
					asker.rotation =
						draft.scene.kind === 'flat'
							? [0, 0, (360 * heading) / (map.headings ?? 1)]
							: [(360 * heading) / (map.headings ?? 1), 0, 0];
			});
		} else
			store.getState().edit('Aim from a map', (draft) => {
				const q = draft.queries.find((one) => one.id === map.query);
				if ((q?.kind !== 'ray' && q?.kind !== 'sweep') || !q.aim) return;
				const yaw = (((map.yaw?.[0] ?? 0) + i * (map.every ?? 1)) * Math.PI) / 180;
				const pitch = (((map.pitch?.[1] ?? 0) - j * (map.every ?? 1)) * Math.PI) / 180;
				q.aim.along = [-Math.sin(yaw) * Math.cos(pitch), Math.sin(pitch), -Math.cos(yaw) * Math.cos(pitch)];
			});
		void navigate(`/p/${key}`);
	};
	const [pointed, setPointed] = useState<string | null>(null);
	const at = (event: React.PointerEvent | React.MouseEvent): [number, number] => {
		const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
		return [Math.floor((event.clientX - box.left) / block), Math.floor((event.clientY - box.top) / block)];
	};
	const said = (value: number): string =>
		value >= 0
			? name(result?.objects[value] ?? '')
			: value === CELL.tie
				? 'a tie'
				: value === CELL.out
					? 'no place to stand'
					: value === CELL.off
						? 'off'
						: 'nothing';
	return (
		<div className="grid grid-cols-[minmax(0,1fr)_20rem] gap-4 max-[1000px]:grid-cols-1">
			<div ref={host}>
				<p role="status" className="mb-1 flex flex-wrap items-center gap-3 text-[12.5px] text-quiet">
					{trouble ??
						(done
							? `Asking: row ${done[0]} of ${done[1]}`
							: result
								? (pointed ?? `${result.columns} × ${result.rows} cells; choose one to go there`)
								: 'Asking…')}
					{done && <Button onClick={() => cancel.current()}>Stop</Button>}
					{result?.headings !== null && result && (
						<Select
							label="Heading"
							value={heading === null ? '' : String(heading)}
							options={[
								{ value: '', label: 'any heading' },
								...Array.from({ length: result.headings }, (_, k) => ({
									value: String(k),
									label: `${Number(((360 * k) / (result.headings ?? 1)).toFixed(1))}°`,
								})),
							]}
							onChange={(text) => setHeading(text === '' ? null : Number(text))}
						/>
					)}
				</p>
				{result && (
					<button
						type="button"
						aria-label={`Map ${map.name ?? map.id}: ${result.figures.objects.length} objects selected somewhere, ${result.figures.never.length} never`}
						className="border"
						onPointerMove={(event) => {
							const [i, j] = at(event);
							if (i < 0 || j < 0 || i >= result.columns || j >= result.rows) return;
							const value = shownAt(result, i, j, heading);
							setPointed(said(value));
							setLit(value >= 0 ? value : null);
						}}
						onPointerLeave={() => {
							setPointed(null);
							setLit(null);
						}}
						onClick={(event) => {
							const [i, j] = event.detail === 0 ? [result.columns >> 1, result.rows >> 1] : at(event);
							if (i >= 0 && j >= 0 && i < result.columns && j < result.rows) goTo(i, j);
						}}
					>
						<canvas ref={canvas} className="block" />
					</button>
				)}
			</div>
			{result && (
				<div className="text-[12.5px]">
					<table className="w-full">
						<thead>
							<tr className="text-left text-quiet">
								<th scope="col">object</th>
								<th scope="col" className="text-right">
									share
								</th>
								{map.kind === 'cursor' && (
									<th scope="col" className="text-right">
										widest, px
									</th>
								)}
								<td />
							</tr>
						</thead>
						<tbody>
							{[...result.figures.objects]
								.sort((a, b) => (a.circle ?? a.share) - (b.circle ?? b.share))
								.map((o) => {
									const place = placeOf.get(o.object) ?? 0;
									return (
										<tr
											key={o.object}
											className="border-t"
											onPointerEnter={() => setLit(place)}
											onPointerLeave={() => setLit(null)}
										>
											<td className="py-0.5">
												<span
													aria-hidden="true"
													className="mr-1.5 inline-block size-3 border border-ink/60 align-[-1px]"
													style={{ background: toneOfObject(place) }}
												/>
												{name(o.object)}
											</td>
											<td className="figure text-right">{(100 * o.share).toFixed(2)} %</td>
											{o.circle !== null && (
												<td
													className={`figure text-right ${o.circle < LEAST_TARGET ? 'font-semibold text-cut' : ''}`}
													title={o.circle < LEAST_TARGET ? 'Under 24 px, the target size of WCAG 2.2' : undefined}
												>
													{o.circle.toFixed(1)}
													{o.circle < LEAST_TARGET && ' !'}
												</td>
											)}
											<td className="pl-2 text-right">
												<Button
													aria-label={`Keep what ${name(o.object)} has as a check`}
													disabled={kept.has(o.object)}
													title="Checked from now on: not less than this"
													onClick={() =>
														store
															.getState()
															.editPlain('Keep a figure of a map', (draft) => void keepFigure(draft, map.id, o))
													}
												>
													{kept.has(o.object) ? 'kept' : 'Keep'}
												</Button>
											</td>
										</tr>
									);
								})}
						</tbody>
					</table>
					{result.figures.tied > 0 && <p className="mt-2 text-tie">{(100 * result.figures.tied).toFixed(2)} % tied</p>}
					{result.figures.never.length > 0 && (
						<section aria-label="Never selected" className="mt-3">
							<h3 className="font-semibold">Never selected</h3>
							<ul>
								{result.figures.never.map((n) => (
									<li key={n.object} className="flex items-baseline gap-1 py-0.5">
										<span className="min-w-0 flex-1 [overflow-wrap:anywhere]">
											{name(n.object)} <span className="text-quiet">· mostly {STAGE_WORDS[n.stage].toLowerCase()}</span>
										</span>
										<Button
											aria-label={`What would select ${name(n.object)}`}
											onClick={() => {
												openQuery();
												store.getState().want({ object: n.object, wish: 'select' });
												void navigate(`/p/${key}`);
											}}
										>
											Select it…
										</Button>
									</li>
								))}
							</ul>
						</section>
					)}
				</div>
			)}
		</div>
	);
}
