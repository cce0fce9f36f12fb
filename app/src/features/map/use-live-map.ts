/** The map of what is open, asked in a worker while one works: what comes in late is left off. */
import type { QueryMap } from '@frelk/core';
import { proxy, type Remote, releaseProxy, wrap } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import { changeOf, piecesOf } from '../../data/text';
import { useBench } from '../../model/use-bench';
import type { MapHand, MapLook, MapShown } from '../../workers/map';
import { type MapOfQuery, withoutMapped } from './kinds';

/** A worker with what it knows of the project. */
interface Hand {
	worker: Worker;
	remote: Remote<MapHand>;
	sent: readonly string[];
	/** Map and look that were asked for last. */
	asked: string;
}

/** What a map looks like now, and what went wrong where it cannot be asked. */
interface LiveMap {
	shown: MapShown | null;
	trouble: string | null;
}

const NOTHING: LiveMap = { shown: null, trouble: null };

/**
 * @param map null while none is wanted
 * @param look how it is shown
 */
export function useLiveMap(map: MapOfQuery | null, look: MapLook): LiveMap {
	const project = useBench((s) => s.project);
	const moment = useBench((s) => s.moment);
	const [live, setLive] = useState<LiveMap>(NOTHING);
	const hand = useRef<Hand | null>(null);
	const wanted = map !== null;
	useEffect(() => {
		if (!wanted) return;
		return () => {
			hand.current?.remote[releaseProxy]();
			hand.current?.worker.terminate();
			hand.current = null;
			setLive(NOTHING);
		};
	}, [wanted]);
	useEffect(() => {
		if (!map) return;
		if (!hand.current) {
			const worker = new Worker(new URL('../../workers/map.ts', import.meta.url), {
				type: 'module',
				name: 'frelk-map',
			});
			worker.addEventListener('error', (event) =>
				setLive({ shown: null, trouble: event.message || 'the worker could not be started' }),
			);
			hand.current = { worker, remote: wrap<MapHand>(worker), sent: [], asked: '' };
		}
		const { current: now } = hand;
		const whole: QueryMap = { id: 'live', ...map, ...(moment === null ? {} : { moment }) } as QueryMap;
		const pieces = piecesOf(withoutMapped(project, map));
		const asked = JSON.stringify([whole, look, look.kind === 'picture' && look.view && [...look.view.rotation]]);
		const same = asked === now.asked && pieces.length === now.sent.length && pieces.every((p, i) => p === now.sent[i]);
		if (same) return;
		const change = changeOf(now.sent, pieces);
		now.sent = pieces;
		now.asked = asked;
		now.remote
			.look(
				change,
				whole,
				look,
				proxy((shown: MapShown) => {
					if (hand.current === now && now.asked === asked) setLive({ shown, trouble: null });
				}),
			)
			.catch((error: unknown) => {
				if (hand.current === now && now.asked === asked)
					setLive({ shown: null, trouble: error instanceof Error ? error.message : String(error) });
			});
	}, [map, look, project, moment]);
	return wanted ? live : NOTHING;
}
