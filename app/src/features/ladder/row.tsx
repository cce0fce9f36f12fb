/** A verdict as a row of the ladder: its object, and why it fell. */
import { anyTagsOf, type Verdict, wordsOfVerdict } from '@frelk/core';
import { Pin } from 'lucide-react';
import { memo, useMemo } from 'react';
import { namingOf } from '../../model/names';
import { queryIn, useBenchStore, useDeferredBench } from '../../model/use-bench';
import { makeReady } from '../../workers/client';

const FIELDS = [
	'object',
	'stage',
	'margin',
	'by',
	'rule',
	'stance',
	'condition',
	'value',
	'role',
	'layers',
	'missing',
	'forbidden',
	'beyond',
	'met',
] as const;

/** Has what shows remedies and who looks for them ready: the hand is on its way. */
function prepare(): void {
	makeReady();
	// Where it cannot be fetched now, that is told when it is asked for.
	import('./remedies').catch(() => {});
}

/** A verdict is made anew with every answer; most say what they said before. */
export const Row = memo(
	VerdictRow,
	(a, b) => a.figure === b.figure && FIELDS.every((field) => a.verdict[field] === b.verdict[field]),
);

/** @param figure what the deciding rule measured of it, in words */
function VerdictRow({ verdict, figure }: { verdict: Verdict; figure?: string | undefined }) {
	const store = useBenchStore();
	// Names hang on the scene; asked of every row with every move, they would be put into words for nothing.
	const naming = useDeferredBench((s) => namingOf(s.project.scene));
	const any = useDeferredBench((s) => anyTagsOf(queryIn(s) ?? undefined));
	const name = naming('object', verdict.object);
	const words = useMemo(() => {
		// Where it is met stands beside its name already.
		const { met, ...reason } = verdict;
		return wordsOfVerdict(figure === undefined ? verdict : reason, naming, any);
	}, [verdict, figure, naming, any]);
	const lit = useDeferredBench((s) => s.pointed === verdict.object || s.picked === verdict.object);
	const pinned = useDeferredBench((s) => s.pinned === verdict.object);
	return (
		<div className="group/row relative" onPointerEnter={prepare}>
			<button
				type="button"
				className={`block w-full px-3 py-0.5 pl-8 text-left ${lit ? 'bg-[var(--wash)]' : ''}`}
				onPointerEnter={() => store.getState().point(verdict.object)}
				onPointerLeave={() => store.getState().point(null)}
				onFocus={() => store.getState().point(verdict.object)}
				onClick={() => store.getState().pick(verdict.object)}
			>
				<span className="line-clamp-2 [overflow-wrap:anywhere]" title={name.length > 40 ? name : undefined}>
					{name}
					{figure !== undefined && <span className="figure float-right pl-2 text-[12px] text-quiet">{figure}</span>}
				</span>
				<span
					className="line-clamp-4 text-[12px] text-quiet [overflow-wrap:anywhere]"
					title={words.length > 120 ? words : undefined}
				>
					{words}
				</span>
			</button>
			<button
				type="button"
				aria-pressed={pinned}
				aria-label={pinned ? 'Take the pin out' : `Pin ${name}`}
				title="Keep its verdict at the head of the ladder"
				className={`absolute top-1 left-2 p-1 hover:bg-[var(--wash)] focus-visible:opacity-100 ${pinned ? '' : 'opacity-0 group-hover/row:opacity-60'}`}
				onClick={() => store.getState().pin(pinned ? null : verdict.object)}
			>
				<Pin size={12} />
			</button>
			<button
				type="button"
				aria-label={`Select this… What would select ${name}`}
				title="What would select it instead"
				className="absolute right-1 bottom-0.5 rounded-[3px] border bg-panel px-1 text-[11px] opacity-0 hover:bg-[var(--wash)] focus-visible:opacity-100 group-hover/row:opacity-100"
				onClick={() => store.getState().want({ object: verdict.object, wish: 'select' })}
			>
				Select this…
			</button>
		</div>
	);
}
