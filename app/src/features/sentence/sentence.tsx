/** The query in hand as a sentence: every variable part is a token one can click and change. Parts at their default are not spoken. */
import { useCallback } from 'react';
import { editQuery } from '../../model/store';
import { queryIn, useBenchStore, useDeferredBench } from '../../model/use-bench';
import { Choosing } from './choosing';
import { Filters } from './filtering';
import { Limits } from './limiting';
import { Opening } from './opening';
import type { Change } from './parts';
import { Add } from './say-more';

export function Sentence() {
	const query = useDeferredBench(queryIn);
	const store = useBenchStore();
	const change: Change = useCallback((label, recipe) => editQuery(store, label, recipe), [store]);
	if (!query)
		return (
			<p className="border-b bg-panel px-3 py-2 text-quiet">
				This project has no query yet. New, on the bench, makes one.
			</p>
		);
	return (
		<section aria-label="Sentence" className="max-h-36 overflow-auto border-b bg-panel px-3 py-2 text-[14px] leading-7">
			<Opening query={query} change={change} />
			<Filters query={query} change={change} />
			<Limits query={query} change={change} />
			<Choosing query={query} change={change} />
			<Add change={change} />
		</section>
	);
}
