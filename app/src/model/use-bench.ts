/** The store of the open bench, for its parts. */
import type { Query, World } from '@frelk/core';
import { createContext, startTransition, useContext, useEffect, useEffectEvent, useReducer } from 'react';
import { useStore } from 'zustand';
import type { BenchState, BenchStore } from './bench-state';
import type { Derived } from './derived';

export const BenchContext = createContext<BenchStore | null>(null);

export function useBenchStore(): BenchStore {
	const store = useContext(BenchContext);
	if (!store) throw new Error('outside of a bench');
	return store;
}

export function useBench<T>(select: (state: BenchState) => T): T {
	return useStore(useBenchStore(), select);
}

/**
 * As `useBench`, for what may follow a moment later: while a gesture is under way such parts are drawn again when there is time, those
 * moments left out that the hand has already passed. The library's own hook holds up the hand for every part that listens.
 */
export function useDeferredBench<T>(select: (state: BenchState) => T): T {
	const store = useBenchStore();
	const [, again] = useReducer((n: number) => n + 1, 0);
	const value = select(store.getState());
	const look = useEffectEvent(({ gesture, moving }: BenchState) => {
		if (Object.is(select(store.getState()), value)) return;
		if (gesture || moving) startTransition(again);
		else again();
	});
	useEffect(() => {
		// What has changed between drawing and listening.
		look(store.getState());
		return store.subscribe((state) => look(state));
	}, [store]);
	return value;
}

const derivedIn = (s: BenchState): Derived => s.derived;
export const useDerived = (): Derived => useBench(derivedIn);
export const useDeferredDerived = (): Derived => useDeferredBench(derivedIn);
export const useWorld = (): World => useBench((s) => s.derived.world);

/** The query in hand, as the project has it. */
export const queryIn = (s: BenchState): Query | null => s.project.queries.find((q) => q.id === s.query) ?? null;
export const useQuery = (): Query | null => useBench(queryIn);
