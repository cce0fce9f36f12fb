/** How firmly each check holds, the weakest first: found by search in a worker, shown on the stage. */
import { activeChecks, type Firmness, type Project, type Robustness, wordsOfGot } from '@frelk/core';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { nameOf, namingOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { robustnessIn } from '../../workers/client';

const NUDGES = { cursor: 'cursor moved', aim: 'aim turned', asker: 'asker moved' } as const;

/** A length that says no more than a hand can do. */
const firmWords = (f: Firmness): string =>
	f.least === null
		? `${NUDGES[f.nudge]}: firm up to ${f.most} ${f.unit}`
		: `${NUDGES[f.nudge]} ${Number(f.least.toPrecision(2))} ${f.unit}`;

/** Which way a nudge goes, in words. */
function wayWords(project: Project, f: Firmness): string {
	const [u, v] = [f.way[0] ?? 0, f.way[1] ?? 0];
	const flat = project.scene.kind === 'flat';
	const strong = (a: number) => Math.abs(a) > 0.38;
	const names: [string, string, string, string] =
		f.nudge === 'cursor'
			? ['right', 'left', 'down', 'up']
			: f.nudge === 'aim'
				? ['left', 'right', 'up', 'down']
				: flat
					? ['+X', '−X', '+Y', '−Y']
					: ['+X', '−X', '+Z', '−Z'];
	return [strong(v) ? (v > 0 ? names[2] : names[3]) : '', strong(u) ? (u > 0 ? names[0] : names[1]) : '']
		.filter((w) => w !== '')
		.join(' and ');
}

export function Weakest() {
	const store = useBenchStore();
	const navigate = useNavigate();
	const project = useBench((s) => s.project);
	const key = useBench((s) => s.key);
	const [found, setFound] = useState<{ of: Project; list: Robustness[] } | null>(null);
	const [running, setRunning] = useState<{ done: number; of: number; cancel: () => void } | null>(null);
	const [trouble, setTrouble] = useState<string | null>(null);
	const search = () => {
		const ids = activeChecks(project).map((c) => c.id);
		const job = robustnessIn(project, ids, (done) => setRunning((r) => r && { ...r, done }));
		setRunning({ done: 0, of: ids.length, cancel: job.cancel });
		setTrouble(null);
		job.done
			.then(
				(list) => setFound({ of: project, list }),
				(error) => setTrouble(job.cancelled() ? 'Stopped.' : error.message),
			)
			.finally(() => setRunning(null));
	};
	const sorted = [...(found?.list ?? [])].sort((a, b) => (a.score ?? Infinity) - (b.score ?? Infinity));
	const naming = namingOf(project.scene);
	return (
		<section className="p-4">
			<p className="mb-2 flex items-center gap-3">
				{running ? (
					<>
						<progress aria-label="Checks searched" max={running.of} value={running.done} />
						<span className="figure">
							{running.done} of {running.of}
						</span>
						<Button onClick={running.cancel}>Stop</Button>
					</>
				) : (
					<Button className="font-semibold" disabled={activeChecks(project).length === 0} onClick={search}>
						Find the weakest checks
					</Button>
				)}
				<span className="text-quiet">
					How far the cursor, the aim or the asker may move in any direction before the answer is another one.
				</span>
			</p>
			{trouble && <p role="alert">{trouble}</p>}
			{found && found.of !== project && (
				<p className="mb-2 border-l-2 border-short pl-2">The project has changed since; search again.</p>
			)}
			<ol>
				{sorted.map((r) => {
					const check = project.checks?.find((c) => c.id === r.check);
					if (!check) return null;
					return (
						<li key={r.check} className="grid grid-cols-[18rem_1fr_auto] items-baseline gap-3 border-t py-1">
							<span>
								<span className="font-semibold">{check.name ?? nameOf(project, 'query', check.query)}</span>
								<span className="text-quiet">
									{' '}
									· {check.moment === undefined ? 'as laid out' : nameOf(project, 'moment', check.moment)}
								</span>
							</span>
							<span>
								{r.firmness.length === 0 && (
									<span className="text-quiet">{r.score === 0 ? 'fails now' : 'nothing to move'}</span>
								)}
								{r.firmness.map((f) => (
									<span key={f.nudge} className="block">
										{firmWords(f)}
										{f.least !== null && (
											<span className="text-quiet">
												{' '}
												{wayWords(project, f)} → {f.becomes ? wordsOfGot(f.becomes, naming) : ''}
											</span>
										)}
									</span>
								))}
							</span>
							<Button
								disabled={r.firmness.length === 0}
								aria-label={`Show ${check.name ?? check.id} on the stage`}
								onClick={() => {
									store.getState().open(check.query);
									store.getState().lookAt(check.moment ?? null);
									store.getState().showFirmness({ query: check.query, firmness: r.firmness });
									void navigate(`/p/${key}`);
								}}
							>
								Show
							</Button>
						</li>
					);
				})}
			</ol>
		</section>
	);
}
