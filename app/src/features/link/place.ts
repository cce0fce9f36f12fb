/** Where one is in an open project: each view tells its part of it when it is asked. */
import { useEffect } from 'react';
import type { BenchStore } from '../../model/bench-state';
import { useLatest } from '../../ui/use-latest';
import type { Place } from './link';

type Telling = () => Partial<Place>;
const told = new WeakMap<BenchStore, Set<Telling>>();

/** Has a view tell what it shows, for as long as it is there. */
export function useTellPlace(store: BenchStore, tell: Telling): void {
	const latest = useLatest(tell);
	useEffect(() => {
		const mine = () => latest.current();
		const all = told.get(store) ?? new Set();
		told.set(store, all.add(mine));
		return () => void all.delete(mine);
	}, [store, latest]);
}

/** @param view that is shown */
export function placeOf(store: BenchStore, view: Place['view']): Place {
	const { query, moment, selection, pinned } = store.getState();
	const place: Place = {
		view,
		...(query === null ? {} : { query }),
		...(moment === null ? {} : { moment }),
		...(selection.length === 0 ? {} : { hand: [...selection] }),
		...(pinned === null ? {} : { pinned }),
	};
	for (const tell of told.get(store) ?? []) Object.assign(place, tell());
	return place;
}
