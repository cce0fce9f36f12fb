/** A kept map, large, with what each object has of it, what is never selected and why, and ways out. */
import type { QueryMap } from '@frelk/core';
import { CELL, MAP_HEAD, type MapResult, MIN_TARGET, mapRows, mapSvg, shownIn, wordsOfNever } from '@frelk/core/maps';
import { useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { pngOf } from '../../data/drawn';
import { saveBytes, saveText } from '../../data/files';
import { nameOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button, Select } from '../../ui/controls';
import { useSize } from '../../ui/use-size';
import { goToCell, nearestCell } from './go-to-cell';
import { keepFigure } from './keep-figure';
import { blockOf, MapCanvas } from './map-canvas';
import { behindMap, planOf } from './plan';
import { Swatch } from './swatch';

/** Pixels of a bar that says how wide a target is, for each pixel of it; and how wide the longest is. */
const BAR = { most: 72, px: 0.75 };

const percent = (share: number): string => `${(100 * share).toFixed(2)} %`;

export function MapShown({ map, result }: { map: QueryMap; result: MapResult }) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const key = useBench((s) => s.key);
	const navigate = useNavigate();
	const [lit, setLit] = useState<number | null>(null);
	/** The object one looks for, as its place in the result. */
	const [only, setOnly] = useState<number | null>(null);
	const [heading, setHeading] = useState<number | null>(null);
	const [pointed, setPointed] = useState<string | null>(null);
	const [failed, setFailed] = useState<string | null>(null);
	const host = useRef<HTMLDivElement>(null);
	const { w } = useSize(host, 700);
	const name = (id: string) => nameOf(project, 'object', id);
	const placeOf = useMemo(() => new Map(result.objects.map((id, i) => [id, i])), [result]);
	const kept = new Set(
		(project.checks ?? []).flatMap((c) => ('map' in c && c.map === map.id ? [c.expect.object] : [])),
	);
	const plan = useMemo(() => planOf(project, map), [project, map]);
	const behind = useMemo(() => behindMap(project, map), [project, map]);
	const query = project.queries.find((q) => q.id === map.query);
	const room = query?.kind === 'overlap' && query.room !== undefined;
	const near = useMemo(() => {
		if (only === null || !plan?.asker) return null;
		const { columns, rows } = result;
		const cells = Array.from({ length: columns * rows }, (_, i) =>
			shownIn(result, i % columns, Math.floor(i / columns), heading, only),
		);
		return nearestCell({ columns, cells }, only, plan.asker.x - 0.5, plan.asker.y - 0.5);
	}, [only, plan, result, heading]);
	const openQuery = () => {
		store.getState().open(map.query);
		store.getState().lookAt(map.moment ?? null);
	};
	/** @param turned the heading to turn to there; else the one that is looked at */
	const goTo = (x: number, y: number, turned = heading) => {
		openQuery();
		goToCell(store, map, x, y, turned);
		void navigate(`/p/${key}`);
	};
	const said = (value: number): string =>
		value >= 0
			? name(result.objects[value] ?? '')
			: value === CELL.tie
				? 'a tie'
				: value === CELL.out
					? 'no place to stand'
					: value === CELL.off
						? 'off'
						: room
							? 'nothing in the way'
							: 'nothing';
	const drawn = () => mapSvg(map, result, name, heading);
	const savePng = async () => {
		try {
			saveBytes(await pngOf(drawn(), 2), `${map.id}.png`, 'image/png');
			setFailed(null);
		} catch (error) {
			setFailed(`No picture was made: ${error instanceof Error ? error.message : String(error)}. SVG has the same.`);
		}
	};
	/** The heading at which a cell has what one looks for. */
	const headingOf = ({ x, y }: { x: number; y: number }): number | null => {
		const n = result.headings ?? 1;
		const from = (y * result.columns + x) * n;
		const at = result.cells.slice(from, from + n).indexOf(only ?? CELL.none);
		return heading ?? (at < 0 ? null : at);
	};
	return (
		<div className="grid grid-cols-[minmax(0,1fr)_24rem] gap-4 max-[1000px]:grid-cols-1">
			<div ref={host}>
				<p className="mb-1 flex flex-wrap items-center gap-2 text-[12.5px] text-quiet">
					<span className="mr-auto" aria-live="polite">
						{pointed ?? failed ?? `${result.columns} × ${result.rows} cells; choose one to go there`}
					</span>
					{result.headings !== null && (
						<Select
							label="Heading"
							value={heading === null ? '' : String(heading)}
							options={[
								{ value: '', label: 'best of all headings' },
								...Array.from({ length: result.headings }, (_, k) => ({
									value: String(k),
									label:
										k === 0 ? 'as it stands' : `turned by ${Number(((360 * k) / (result.headings ?? 1)).toFixed(1))}°`,
								})),
							]}
							onChange={(text) => setHeading(text === '' ? null : Number(text))}
						/>
					)}
					<Button aria-label="Save the map as PNG" onClick={savePng}>
						PNG
					</Button>
					<Button aria-label="Save the map as SVG" onClick={() => saveText(drawn(), `${map.id}.svg`, 'image/svg+xml')}>
						SVG
					</Button>
					<Button
						aria-label="Save the map as CSV"
						onClick={() => saveText(`${[MAP_HEAD, ...mapRows(result)].join('\r\n')}\r\n`, `${map.id}.csv`, 'text/csv')}
					>
						CSV
					</Button>
				</p>
				<MapCanvas
					label={`Map ${map.name ?? map.id}: ${result.figures.objects.length} objects selected somewhere, ${result.figures.never.length} never`}
					result={result}
					block={blockOf(result, w)}
					heading={heading}
					lit={only ?? lit}
					want={only}
					plan={plan}
					behind={behind}
					ring={near}
					point={(cell) => {
						setPointed(cell && said(cell.value));
						setLit(cell && cell.value >= 0 ? cell.value : null);
					}}
					choose={goTo}
				/>
			</div>
			<div className="text-[12.5px]">
				{result.figures.objects.length === 0 && <p className="mb-2">Nothing is selected anywhere.</p>}
				<table hidden={result.figures.objects.length === 0} className="w-full">
					<thead>
						<tr className="text-left text-quiet">
							<th scope="col">object</th>
							<th scope="col" className="text-right">
								share
							</th>
							{map.kind === 'cursor' && (
								<th scope="col" className="pl-3">
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
								const small = o.circle !== null && o.circle < MIN_TARGET;
								return (
									<tr
										key={o.object}
										className="border-t"
										onPointerEnter={() => setLit(place)}
										onPointerLeave={() => setLit(null)}
									>
										<td className="py-0.5">
											<button
												type="button"
												aria-pressed={only === place}
												title="Show this one alone"
												className="min-h-6 text-left hover:underline aria-pressed:font-semibold"
												onClick={() => setOnly(only === place ? null : place)}
											>
												<Swatch value={place} />
												{name(o.object)}
											</button>
										</td>
										<td className="figure text-right whitespace-nowrap">{percent(o.share)}</td>
										{o.circle !== null && (
											<td
												className={`figure pl-3 ${small ? 'font-semibold text-cut' : ''}`}
												title={small ? 'Under 24 px, the target size of WCAG 2.2' : undefined}
											>
												<span className="flex items-center gap-1 whitespace-nowrap">
													<svg aria-hidden="true" width={BAR.most} height="10" className="shrink-0 overflow-visible">
														<path
															d={`M0 5H${Math.min(BAR.most, BAR.px * o.circle)}`}
															stroke={small ? 'var(--cut)' : 'var(--quiet)'}
															strokeWidth="6"
														/>
														<path d={`M${BAR.px * MIN_TARGET} -3V13`} stroke="var(--ink)" />
													</svg>
													{o.circle.toFixed(1)}
													{small && ' !'}
												</span>
											</td>
										)}
										<td className="pl-2 text-right">
											<Button
												aria-label={`${kept.has(o.object) ? 'kept: ' : ''}Keep what ${name(o.object)} has as a check`}
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
				{only !== null && (
					<p role="status" className="mt-2 flex flex-wrap items-center gap-2">
						<span>
							In {percent(result.figures.objects[only]?.share ?? 0)} of the{' '}
							{result.headings !== null ? 'answers' : 'cells'}
							{room ? ' it is in the way.' : ' it is selected.'}
						</span>
						{near && !room && (
							<Button onClick={() => goTo(near.x, near.y, headingOf(near))}>Stand at the nearest place</Button>
						)}
						<Button quiet onClick={() => setOnly(null)}>
							Show all
						</Button>
					</p>
				)}
				{result.figures.tied > 0 && (
					<p className="mt-2 text-tie">
						<Swatch value={CELL.tie} />
						{percent(result.figures.tied)} tied
					</p>
				)}
				{result.figures.never.length > 0 && (
					<section aria-label="Never selected" className="mt-3">
						<h3 className="font-semibold">Never selected</h3>
						<ul>
							{result.figures.never.map((n) => (
								<li key={n.object} className="flex items-baseline gap-1 py-0.5">
									<span className="min-w-0 flex-1 [overflow-wrap:anywhere]">
										{name(n.object)} <span className="text-quiet">· {wordsOfNever(n)}</span>
									</span>
									<Button
										aria-label={`Select it… What would select ${name(n.object)}`}
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
		</div>
	);
}
