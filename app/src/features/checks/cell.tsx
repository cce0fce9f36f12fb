/** One cell of the board: the answer, the checks of it, and the same query at another moment. */
import {
	Answerer,
	buildWorld,
	type Check,
	type CheckResult,
	type Query,
	STAGE_WORDS,
	stillChecks,
	updatedExpectation,
	wordsOfGot,
	wordsOfVerdict,
} from '@frelk/core';
import { X } from 'lucide-react';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Since } from '../../data/history';
import { nameOf, namingOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button, Select, TextField, Check as Tick } from '../../ui/controls';
import { Mark } from '../../ui/marks';
import { nameCheck } from '../edit/naming';
import { ExpectEditor } from './expect-editor';
import { extrasOf, keepAnswer, setExtra, wishOf } from './keep';
import { ago, markFor, reasonWords, wordsOfExpectation } from './words';

export function Cell({
	at,
	results,
	since,
	onClose,
}: {
	at: { query: string; moment: string | null };
	results: CheckResult[];
	since: ReadonlyMap<string, Since>;
	onClose: () => void;
}) {
	const project = useBench((s) => s.project);
	if (
		!project.queries.some((q) => q.id === at.query) ||
		(at.moment !== null && !project.moments?.some((m) => m.id === at.moment))
	)
		return null;
	return <Filled at={at} results={results} since={since} onClose={onClose} key={`${at.moment} ${at.query}`} />;
}

function Filled({
	at,
	results,
	since,
	onClose,
}: {
	at: { query: string; moment: string | null };
	results: CheckResult[];
	since: ReadonlyMap<string, Since>;
	onClose: () => void;
}) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const navigate = useNavigate();
	const key = useBench((s) => s.key);
	const naming = namingOf(project.scene);
	const answer = useMemo(() => {
		const world = buildWorld(project, at.moment);
		return new Answerer(world).explain(world.queryById.get(at.query) as Query);
	}, [project, at]);
	const checks = stillChecks(project).filter((c) => c.query === at.query && (c.moment ?? null) === at.moment);
	const toBench = () => {
		store.getState().open(at.query);
		store.getState().lookAt(at.moment);
		void navigate(`/p/${key}`);
	};
	const change = (id: string, label: string, recipe: (c: Check) => void) => {
		// A check is no part of a moment: it is changed in the project, whatever is looked at.
		store.getState().editPlain(label, (draft) => {
			const target = stillChecks(draft).find((c) => c.id === id);
			if (target) recipe(target);
		});
	};
	return (
		<aside aria-label="Cell" className="overflow-auto border-l bg-panel p-3">
			<h2 className="flex items-start font-semibold">
				<span className="flex-1">{nameOf(project, 'query', at.query)}</span>
				<Button quiet className="px-1.5!" aria-label="Close the cell" onClick={onClose}>
					<X size={14} />
				</Button>
			</h2>
			<p className="mb-2 text-quiet">
				{at.moment === null ? 'Scene as laid out' : nameOf(project, 'moment', at.moment)}
			</p>
			<p className="flex items-center gap-2 text-[15px] font-semibold">
				<Mark stage={markFor(answer.status)} size={14} />
				{wordsOfGot(answer, naming)}
			</p>
			{answer.selected[0]?.prompt && (
				<p className="pl-5.5 text-quiet">
					{answer.selected[0].prompt}
					{answer.selected[0].action && <span className="figure"> · {answer.selected[0].action}</span>}
				</p>
			)}
			<div className="my-2 flex flex-wrap gap-1">
				<Button className="font-semibold" onClick={toBench}>
					Open on the bench
				</Button>
				<Button
					disabled={answer.status === 'waiting'}
					onClick={() =>
						store.getState().editPlain('Keep an answer', (draft) => void keepAnswer(draft, answer, at.moment))
					}
				>
					Keep this answer
				</Button>
			</div>
			{checks.map((check) => {
				const result = results.find((r) => r.id === check.id);
				const extras = extrasOf(check);
				const stands = since.get(check.id);
				return (
					<section
						key={check.id}
						aria-label={`Check ${check.name ?? check.id}`}
						className={`mt-2 border-l-3 pl-2 ${result && !result.pass ? 'border-l-cut' : 'border-l-line'}`}
					>
						<TextField
							label={`Name of the check ${check.id}`}
							className="border-transparent! font-semibold"
							value={check.name ?? check.id}
							onCommit={(name) => nameCheck(store, check.id, name)}
						/>
						<p className={result && !result.pass ? 'text-cut' : 'text-quiet'}>
							{extras.off ? 'switched off' : result ? (result.pass ? 'holds' : 'fails') : '…'}
							{stands && !extras.off && ` · ${ago(stands.at, Date.now())}`}
							{stands?.after && stands.failing && !extras.off && `, since “${stands.after}”`}
						</p>
						<p>
							<span className="text-quiet">wanted </span>
							{wordsOfExpectation(check.expect, naming)}
						</p>
						{result && !result.pass && (
							<>
								<p>
									<span className="text-quiet">got </span>
									{wordsOfGot(result.got, naming)}
								</p>
								<p className="text-[12px]">{reasonWords(project, result)}</p>
								<MakeItHold wish={wishOf(check.expect, result.got)} onGo={toBench} />
								<Button
									className="my-1"
									onClick={() =>
										change(check.id, 'Take the answer as wanted', (c) => {
											const next = updatedExpectation(check, result.got);
											if (next) c.expect = next;
										})
									}
								>
									Want what is got
								</Button>
							</>
						)}
						<details>
							<summary className="text-quiet">change what is wanted</summary>
							<ExpectEditor
								query={check.query}
								expect={check.expect}
								onChange={(expect) => change(check.id, 'Expectation', (c) => void (c.expect = expect))}
							/>
							<textarea
								aria-label={`Notes on ${check.id}`}
								placeholder="notes"
								className="mt-1 w-full"
								defaultValue={extras.notes ?? ''}
								onBlur={(event) =>
									event.target.value !== (extras.notes ?? '') &&
									change(check.id, 'Notes', (c) => setExtra(c, 'notes', event.target.value))
								}
							/>
							<Tick
								label="Switched off"
								checked={extras.off ?? false}
								onChange={(on) =>
									change(check.id, on ? 'Switch a check off' : 'Switch a check on', (c) => setExtra(c, 'off', on))
								}
							/>
							<Button
								onClick={() =>
									store
										.getState()
										.editPlain(
											'Delete a check',
											(draft) => void (draft.checks = (draft.checks ?? []).filter((c) => c.id !== check.id)),
										)
								}
							>
								Delete the check
							</Button>
						</details>
						{extras.notes && <p className="text-[12px] text-quiet">{extras.notes}</p>}
					</section>
				);
			})}
			<Beside at={at} />
		</aside>
	);
}

/** To the bench, with what would make a check hold beside the answer. */
function MakeItHold({ wish, onGo }: { wish: ReturnType<typeof wishOf>; onGo: () => void }) {
	const store = useBenchStore();
	if (!wish) return null;
	return (
		<Button
			className="my-1 mr-1 font-semibold"
			onClick={() => {
				onGo();
				store.getState().want(wish);
			}}
		>
			Make it hold…
		</Button>
	);
}

/** The same query at another moment: only the objects that fare otherwise. */
function Beside({ at }: { at: { query: string; moment: string | null } }) {
	const project = useBench((s) => s.project);
	const [other, setOther] = useState('-');
	const naming = namingOf(project.scene);
	const rows = useMemo(() => {
		if (other === '-') return null;
		const ask = (moment: string | null) => {
			const world = buildWorld(project, moment);
			return new Map(
				new Answerer(world).explain(world.queryById.get(at.query) as Query).verdicts.map((v) => [v.object, v]),
			);
		};
		const [here, there] = [ask(at.moment), ask(other === '' ? null : other)];
		return project.scene.objects.flatMap((o) => {
			const [a, b] = [here.get(o.id), there.get(o.id)];
			const say = (v: typeof a) => (v ? `${STAGE_WORDS[v.stage]}: ${wordsOfVerdict(v, naming)}` : 'not judged');
			return say(a) === say(b) ? [] : [{ id: o.id, here: a, there: b, words: [say(a), say(b)] as const }];
		});
	}, [project, at, other, naming]);
	const moments = [
		{ value: '', label: 'Scene as laid out' },
		...(project.moments ?? []).map((m) => ({ value: m.id, label: m.name ?? m.id })),
	];
	return (
		<section aria-label="Beside another moment" className="mt-4 border-t pt-2">
			<h3 className="font-semibold">Beside another moment</h3>
			<Select
				label="Other moment"
				value={other}
				options={[{ value: '-', label: 'choose a moment' }, ...moments.filter((m) => m.value !== (at.moment ?? ''))]}
				onChange={setOther}
				className="my-1 w-full"
			/>
			{rows && rows.length === 0 && <p className="text-quiet">Every object fares the same.</p>}
			{rows && rows.length > 0 && (
				<table className="w-full text-[12px]">
					<thead>
						<tr className="text-left text-quiet">
							<th className="font-normal">object</th>
							<th className="font-normal">here</th>
							<th className="font-normal">there</th>
						</tr>
					</thead>
					<tbody>
						{rows.map((row) => (
							<tr key={row.id} className="border-t align-top">
								<td className="pr-2 font-semibold">{nameOf(project, 'object', row.id)}</td>
								<td className="pr-2">{row.words[0]}</td>
								<td>{row.words[1]}</td>
							</tr>
						))}
					</tbody>
				</table>
			)}
		</section>
	);
}
