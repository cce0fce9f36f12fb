/** What to do so that an object is selected, or is not: every change was tried, and says what else it changes. */
import {
	anyTagsOf,
	byCost,
	byName,
	type Nearest,
	type Project,
	type Remedy,
	STAGE_WORDS,
	wordsOfVerdict,
} from '@frelk/core';
import jsonPatch from 'fast-json-patch';
import { X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { earlierIn } from '../../model/earlier';
import { nameOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { remediesIn } from '../../workers/client';
import { useTryOn } from './use-try-on';

const count = (n: number, one: string, many: string): string => (n === 1 ? one : `${n} ${many}`);

const samePatch = (a: Remedy, b: Remedy): boolean => JSON.stringify(a.patch) === JSON.stringify(b.patch);

export default function Remedies({ object, wish }: { object: string; wish: 'select' | 'leave' }) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const query = useBench((s) => s.query);
	const moment = useBench((s) => s.moment);
	const held = useBench((s) => s.gesture !== null);
	const [nearest, setNearest] = useState<Nearest | null>(null);
	const [found, setFound] = useState<readonly Remedy[]>([]);
	const [state, setState] = useState<'looking' | 'holding' | 'done' | 'already' | string>('looking');
	useEffect(() => {
		if (query === null || held) return;
		let over = false;
		setFound([]);
		setNearest(null);
		setState('looking');
		/** The order is by cost; but nothing moves from under the hand that points at one. */
		const show = (change: (list: readonly Remedy[]) => readonly Remedy[]) =>
			setFound((list) => {
				const next = change(list);
				if (store.getState().preview === null) return next;
				const came = next.filter((remedy) => !list.some((shown) => samePatch(shown, remedy)));
				return [...list.map((shown) => next.find((now) => samePatch(now, shown)) ?? shown), ...came];
			});
		const job = remediesIn(
			project,
			{ query, object, moment, wish },
			earlierIn(project, store.getState().past),
			(remedy) => show((list) => [...list, remedy].sort(byCost)),
			(all) => {
				show(() => all);
				if (all.length > 0) setState('holding');
			},
		);
		job.done.then(
			({ already, remedies, nearest }) => {
				if (over) return;
				setNearest(nearest);
				show(() => remedies);
				setState(already ? 'already' : 'done');
			},
			(error) =>
				!over && setState(`They could not be looked for: ${error instanceof Error ? error.message : String(error)}`),
		);
		return () => {
			over = true;
			job.cancel();
		};
	}, [store, project, query, object, moment, wish, held]);
	const after = ({ patch }: Remedy): Project =>
		jsonPatch.applyPatch(JSON.parse(JSON.stringify(project)), patch).newDocument as Project;
	const take = (remedy: Remedy) => store.getState().put(remedy.words, after(remedy));
	const tryOn = useTryOn();
	const name = nameOf(project, 'object', object);
	const checks = new Map((project.checks ?? []).map((c) => [c.id, c.name ?? c.id]));
	return (
		<section aria-label="Remedies" className="max-h-[55%] overflow-auto border-b bg-[var(--wash)] px-3 py-2">
			<div className="flex items-start gap-2">
				<h3 className="min-w-0 flex-1 font-semibold [overflow-wrap:anywhere]">
					{wish === 'select' ? `To select ${name}` : `Not ${name}`}
				</h3>
				<Button quiet aria-label="Close the remedies" onClick={() => store.getState().want(null)}>
					<X size={13} />
				</Button>
			</div>
			<p role="status" className="text-[12px] text-quiet">
				{state === 'looking'
					? 'Trying…'
					: state === 'done' || state === 'holding'
						? found.length === 0
							? 'No change that was tried is enough, nor are several together.'
							: `Each was tried. Point at one to see it; choose it, and it is one step back.${state === 'holding' ? ' Now against the checks of runs and maps…' : ''}`
						: state === 'already'
							? wish === 'select'
								? 'It is selected as it is.'
								: 'It is not selected as it is.'
							: state}
			</p>
			{found.length === 0 && nearest && (
				<p className="mt-1 text-[12px]">
					What came nearest: {nearest.words.join('; then ')}.
					{nearest.verdict &&
						` Then it still falls at ${STAGE_WORDS[nearest.verdict.stage]}: ${wordsOfVerdict(nearest.verdict, byName(project), anyTagsOf(project.queries.find((q) => q.id === query)))}.`}
				</p>
			)}
			<ul>
				{found.map((remedy) => {
					const { words, turns, mends, changes, patch, looks } = remedy;
					const inMoment = patch.every((op) => op.path.startsWith('/moments/'));
					return (
						<li key={JSON.stringify(patch)}>
							<button
								type="button"
								className="block w-full border-l-3 border-l-line px-2 py-1 text-left hover:border-l-ink hover:bg-panel"
								{...tryOn(words, () => after(remedy))}
								onClick={() => take(remedy)}
							>
								<span className="block [overflow-wrap:anywhere]">{words}</span>
								{looks === 'mistake' && <span className="block text-[12px] font-semibold">looks like the mistake</span>}
								<span className="block text-[12px] text-quiet">
									{changes.length === 0
										? 'no other answer changes'
										: `${count(changes.length, 'one other answer changes', 'other answers change')}`}
									{turns.length > 0 && (
										<span className="text-cut" title={turns.map((id) => checks.get(id) ?? id).join(', ')}>
											; breaks {count(turns.length, 'one check', 'checks')}
										</span>
									)}
									{mends.length > 0 &&
										`; fixes ${mends
											.map((id) => checks.get(id) ?? id)
											.slice(0, 3)
											.join(', ')}${mends.length > 3 ? ` and ${mends.length - 3} more` : ''}`}
									{moment !== null && (inMoment ? '; at this moment' : '; in the scene itself')}
								</span>
							</button>
						</li>
					);
				})}
			</ul>
		</section>
	);
}
