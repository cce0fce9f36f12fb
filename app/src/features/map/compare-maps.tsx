/** A map against the same at another moment, in an earlier version, or without a part of its query: what changed hands. */
import type { Project, QueryMap } from '@frelk/core';
import { type CellSays, compareMaps, type MapResult } from '@frelk/core/maps';
import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { Version } from '../../data/db';
import { projectOf, versionsOf } from '../../data/history';
import { nameOf } from '../../model/names';
import { useBench } from '../../model/use-bench';
import { Select } from '../../ui/controls';
import { useSize } from '../../ui/use-size';
import { mapIn } from '../../workers/client';
import { blockOf, MapCanvas } from './map-canvas';
import { partsOf, withoutPart } from './without';

const NONE: readonly Version[] = [];

interface Other {
	value: string;
	label: string;
	project: Project;
	map: QueryMap;
}

function othersOf(project: Project, map: QueryMap, versions: readonly Version[]): Other[] {
	const { moment: _, ...laid } = map;
	const query = project.queries.find((q) => q.id === map.query);
	const moments = [null, ...(project.moments ?? []).map((m) => m.id)].filter((m) => m !== (map.moment ?? null));
	return [
		...(query ? partsOf(query) : []).map(({ key, words }) => ({
			value: `without ${key}`,
			label: `without ${words}`,
			project: withoutPart(project, map.query, key),
			map,
		})),
		...moments.map((m) => ({
			value: `moment ${m ?? ''}`,
			label: m === null ? 'scene as laid out' : `at ${nameOf(project, 'moment', m)}`,
			project,
			map: (m === null ? laid : { ...laid, moment: m }) as QueryMap,
		})),
		...versions
			.filter((v) => v.project.queries.some((q) => q.id === map.query))
			.map((v) => ({
				value: `version ${v.id}`,
				label: `version of ${new Date(v.at).toLocaleString('en-GB')}`,
				project: v.project,
				map,
			})),
	];
}

/** Of a damaged version nothing can be asked. */
function isWhole(version: Version): boolean {
	try {
		return projectOf(version) !== null;
	} catch {
		return false;
	}
}

export function CompareMaps({ map, result }: { map: QueryMap; result: MapResult }) {
	const project = useBench((s) => s.project);
	const key = useBench((s) => s.key);
	const kept = useLiveQuery(() => versionsOf(key), [key]) ?? NONE;
	const versions = useMemo(() => kept.filter(isWhole), [kept]);
	const others = useMemo(() => othersOf(project, map, versions), [project, map, versions]);
	const [chosen, setChosen] = useState<string | null>(null);
	const other = others.find((o) => o.value === chosen) ?? others[0];
	const [before, setBefore] = useState<{ of: Other; result: MapResult } | null>(null);
	const [trouble, setTrouble] = useState<string | null>(null);
	const host = useRef<HTMLDivElement>(null);
	const { w } = useSize(host, 900);
	useEffect(() => {
		if (!other) return;
		let over = false;
		setTrouble(null);
		const job = mapIn(other.project, other.map);
		job.done.then(
			(found) => !over && setBefore({ of: other, result: found }),
			(error) => !over && !job.cancelled() && setTrouble(error instanceof Error ? error.message : String(error)),
		);
		return () => {
			over = true;
			job.cancel();
		};
	}, [other]);
	const shown = before && before.of === other ? before : null;
	const compared = useMemo(() => {
		if (!shown) return null;
		try {
			return compareMaps(shown.result, result);
		} catch (error) {
			return error instanceof Error ? error.message : String(error);
		}
	}, [shown, result]);
	const marked = useMemo(() => {
		if (!compared || typeof compared === 'string') return null;
		const n = result.headings ?? 1;
		return Uint8Array.from({ length: result.columns * result.rows }, (_, i) =>
			compared.changed.subarray(i * n, (i + 1) * n).some((c) => c === 1) ? 1 : 0,
		);
	}, [compared, result]);
	if (!other) return <p className="text-quiet">There is no other moment, version or part to compare it with.</p>;
	const words = (said: CellSays) => (typeof said === 'string' ? said : nameOf(project, 'object', said.object));
	const block = blockOf(result, (w - 16) / 2);
	return (
		<div ref={host}>
			<p className="mb-2 flex flex-wrap items-center gap-2">
				<span>{map.name ?? map.id} against the same</span>
				<Select
					label="Compare with"
					value={other.value}
					options={others.map(({ value, label }) => ({ value, label }))}
					onChange={setChosen}
				/>
				<span role="status" className="text-quiet">
					{trouble ??
						(compared === null
							? 'Asking…'
							: typeof compared === 'string'
								? compared
								: compared.differ === 0
									? 'No answer differs.'
									: `${compared.differ} of ${compared.answers} answers differ.`)}
				</span>
			</p>
			{shown && compared && typeof compared !== 'string' && (
				<div className="flex flex-wrap items-start gap-4">
					<figure>
						<figcaption className="text-[12.5px] text-quiet">{other.label}</figcaption>
						<MapCanvas label={`Map ${other.label}`} result={shown.result} block={block} />
					</figure>
					<figure>
						<figcaption className="text-[12.5px] text-quiet">now; what changed hands stands out</figcaption>
						<MapCanvas label="Map now, what changed hands stands out" result={result} block={block} marked={marked} />
					</figure>
					{compared.handed.length > 0 && (
						<table aria-label="What changed hands" className="text-[12.5px]">
							<thead>
								<tr className="text-left text-quiet">
									<th scope="col" className="pr-4">
										{other.label}
									</th>
									<th scope="col" className="pr-4">
										now
									</th>
									<th scope="col" className="text-right">
										answers
									</th>
								</tr>
							</thead>
							<tbody>
								{compared.handed.map(({ from, to, answers }) => (
									<tr key={`${words(from)} ${words(to)}`} className="border-t">
										<td className="py-0.5 pr-4">{words(from)}</td>
										<td className="pr-4">{words(to)}</td>
										<td className="figure text-right">
											{answers} · {((100 * answers) / compared.answers).toFixed(2)} %
										</td>
									</tr>
								))}
							</tbody>
						</table>
					)}
				</div>
			)}
		</div>
	);
}
