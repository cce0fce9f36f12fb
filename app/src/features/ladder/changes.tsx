/** What would change the answer with the least: cursor, aim or asker moved just so far; each can be looked at before it is done. */
import { type LeastChange, wordsOfGot } from '@frelk/core';
import { X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { editedAt } from '../../model/document';
import { namingOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { changesIn } from '../../workers/client';
import { marginWords, wayWords } from '../checks/robustness-words';
import { useTryOn } from './use-try-on';

export default function Changes() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const query = useBench((s) => s.query);
	const moment = useBench((s) => s.moment);
	const held = useBench((s) => s.gesture !== null);
	const [found, setFound] = useState<LeastChange[] | null>(null);
	const [trouble, setTrouble] = useState<string | null>(null);
	useEffect(() => {
		if (query === null || held) return;
		let over = false;
		setFound(null);
		setTrouble(null);
		const job = changesIn(project, query, moment);
		job.done.then(
			(list) => !over && setFound(list),
			(error) => !over && setTrouble(error instanceof Error ? error.message : String(error)),
		);
		return () => {
			over = true;
			job.cancel();
		};
	}, [project, query, moment, held]);
	const tryOn = useTryOn();
	const recipe =
		({ makes }: LeastChange) =>
		(draft: typeof project): void => {
			if ('query' in makes) {
				const at = draft.queries.findIndex((q) => q.id === makes.query.id);
				const q = draft.queries[at];
				if (q?.kind === 'pick' && makes.query.kind === 'pick') q.cursor = makes.query.cursor;
				else if ((q?.kind === 'ray' || q?.kind === 'sweep') && 'aim' in makes.query) q.aim = makes.query.aim;
			} else {
				const asker = draft.scene.objects.find((o) => o.id === makes.asker.id);
				if (asker) asker.position = makes.asker.position;
			}
		};
	const naming = namingOf(project.scene);
	return (
		<section
			aria-label="What would change it"
			className="max-h-[55%] overflow-auto border-b bg-[var(--wash)] px-3 py-2"
		>
			<div className="flex items-start gap-2">
				<h3 className="min-w-0 flex-1 font-semibold">What would change it with the least</h3>
				<Button quiet aria-label="Close what would change it" onClick={() => store.getState().want(null)}>
					<X size={13} />
				</Button>
			</div>
			<p role="status" className="text-[12px] text-quiet">
				{trouble ??
					(found === null
						? 'Trying…'
						: found.length === 0
							? 'Nothing a hand does: neither cursor, nor aim, nor asker within their reach.'
							: 'Each was tried. Point at one to see it; choose it, and it is one step back.')}
			</p>
			<ul>
				{found?.map((change) => {
					const words = `${marginWords(change)} ${wayWords(project, change)}`;
					return (
						<li key={change.perturbation}>
							<button
								type="button"
								className="block w-full border-l-3 border-l-line px-2 py-1 text-left hover:border-l-ink hover:bg-panel"
								{...tryOn(words, () => editedAt(project, moment, recipe(change)))}
								onClick={() => store.getState().edit(words, recipe(change))}
							>
								<span className="block first-letter:uppercase">{words}</span>
								<span className="block text-[12px] text-quiet">{wordsOfGot(change.becomes, naming)} instead</span>
							</button>
						</li>
					);
				})}
			</ul>
		</section>
	);
}
