/** Today's answer as a check, in one action; one here that wants something else is replaced, or stays beside it, as one says. */
import {
	type Answer,
	activeChecks,
	type Check,
	failureOf,
	keptOf,
	stillChecks,
	updatedExpectation,
	wordsOfWanted,
} from '@frelk/core';
import { deepEqual } from '@frelk/core/editing';
import { useState } from 'react';
import { nameOf, namingOf } from '../../model/names';
import { useBenchStore, useDeferredBench } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { keepAnswer } from '../checks/keep';

export function Keep({ answer }: { answer: Answer }) {
	const store = useBenchStore();
	const moment = useDeferredBench((s) => s.moment);
	const project = useDeferredBench((s) => s.project);
	const [asking, setAsking] = useState<string | null>(null);
	const here = activeChecks(project).filter((c) => c.query === answer.query && (c.moment ?? null) === moment);
	const failing = here.filter((c) => failureOf(c.expect, answer) !== '');
	const expected = keptOf(answer);
	// One that wants an order beside wants this selection too.
	const same = here.some((c) =>
		[c.expect, { ...c.expect, order: 'any' }].some((wanted) => deepEqual(wanted, expected)),
	);
	const naming = namingOf(project.scene);
	const wants = (c: Check) => wordsOfWanted(c.expect, naming);
	const where = moment === null ? 'as laid out' : nameOf(project, 'moment', moment);
	const add = () => {
		setAsking(null);
		store.getState().editPlain('Keep an answer', (draft) => void keepAnswer(draft, answer, moment));
	};
	const replace = () => {
		setAsking(null);
		store.getState().editPlain('Replace what a check wants', (draft) => {
			const ids = new Set(failing.map((c) => c.id));
			for (const check of stillChecks(draft)) {
				const next = ids.has(check.id) ? updatedExpectation(check, answer) : null;
				if (next) check.expect = next;
			}
		});
	};
	const now = JSON.stringify([answer.query, moment, answer.status, answer.selected.map((s) => s.object)]);
	return (
		<div className="mt-1">
			<p className="flex flex-wrap items-center gap-x-2">
				<Button
					disabled={same}
					title={same ? 'A check here wants this answer already' : undefined}
					onClick={failing.length > 0 ? () => setAsking(now) : add}
				>
					Keep this answer
				</Button>
				<span className="text-[12px] text-quiet">
					{here.length === 0
						? `not checked, ${where}`
						: `${same && here.length === 1 ? 'kept: ' : ''}${here.length} ${here.length === 1 ? 'check' : 'checks'}, ${where}`}
				</span>
			</p>
			{failing.map((check) => (
				<p
					key={check.id}
					className="mt-1 line-clamp-5 border-l-2 border-cut pl-2 text-[12px] [overflow-wrap:anywhere]"
					title={failureOf(check.expect, answer, naming)}
				>
					<strong className="text-cut">A check fails:</strong> {failureOf(check.expect, answer, naming)}
				</p>
			))}
			{asking === now && failing.length > 0 && (
				<div role="alertdialog" aria-label="Replace what is wanted?" className="mt-1 border-l-2 border-ink pl-2">
					<p className="line-clamp-5 [overflow-wrap:anywhere]">
						{failing.length === 1 ? 'The check here wants' : `${failing.length} checks here want`}{' '}
						<strong>{failing.map(wants).join('; ')}</strong>. Both cannot hold.
					</p>
					<p className="mt-1 flex flex-wrap gap-1">
						<Button autoFocus onClick={replace}>
							Replace
						</Button>
						<Button onClick={add}>Keep both</Button>
						<Button quiet onClick={() => setAsking(null)}>
							Leave it
						</Button>
					</p>
				</div>
			)}
		</div>
	);
}
