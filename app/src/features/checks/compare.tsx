/** The project against an earlier version of itself: which answers changed. */
import { type AnswerChange, changesBetween, formatProblem, type Project, readProject } from '@frelk/core';
import { useLiveQuery } from 'dexie-react-hooks';
import { useRef, useState } from 'react';
import type { Version } from '../../data/db';
import { dropVersion, keepVersion, projectOf, versionsOf } from '../../data/history';
import { nameOf } from '../../model/names';
import { useBench } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { answersIn } from '../../workers/client';
import { quickWords } from './words';

const NONE: readonly Version[] = [];

export function Compare() {
	const project = useBench((s) => s.project);
	const key = useBench((s) => s.key);
	const input = useRef<HTMLInputElement>(null);
	const versions = useLiveQuery(() => versionsOf(key), [key]) ?? NONE;
	const [changes, setChanges] = useState<{ with: string; list: AnswerChange[]; before: Project } | null>(null);
	const [working, setWorking] = useState(false);
	const [trouble, setTrouble] = useState<string[]>([]);
	const compare = async (name: string, of: () => Project) => {
		setWorking(true);
		setTrouble([]);
		try {
			const before = of();
			const was = await answersIn(before).done;
			const is = await answersIn(project).done;
			setChanges({ with: name, list: changesBetween(was, is), before });
		} catch (error) {
			setTrouble([error instanceof Error ? error.message : String(error)]);
		} finally {
			setWorking(false);
		}
	};
	const compareFile = async (file: File) => {
		const reading = readProject(await file.text());
		if (reading.ok) await compare(file.name, () => reading.project);
		else setTrouble([`${file.name} is no project file:`, ...reading.problems.map(formatProblem)]);
	};
	return (
		<section className="p-4">
			<div className="mb-3 flex flex-wrap items-center gap-2">
				<Button className="font-semibold" onClick={() => void keepVersion(key, project.name, project)}>
					Keep this version
				</Button>
				<Button onClick={() => input.current?.click()}>Compare with a file…</Button>
				<input
					ref={input}
					type="file"
					accept=".json,application/json"
					className="sr-only"
					tabIndex={-1}
					aria-label="Earlier version to compare with"
					onChange={(event) => {
						const file = event.target.files?.[0];
						if (file) void compareFile(file);
						event.target.value = '';
					}}
				/>
				{working && <span role="status">Comparing…</span>}
			</div>
			{trouble.length > 0 && (
				<ul role="alert" className="mb-3 border-l-2 border-cut pl-3">
					{trouble.map((line) => (
						<li key={line}>{line}</li>
					))}
				</ul>
			)}
			{versions.length === 0 && (
				<p className="text-quiet">
					No version is kept yet. Keep one before a change; then see here which answers the change turned.
				</p>
			)}
			<ul className="mb-4">
				{versions.map((v) => (
					<li key={v.id} className="grid grid-cols-[11rem_minmax(0,1fr)_auto_auto] items-center gap-3 border-t py-1">
						<span className="figure">{new Date(v.at).toLocaleString('en-GB')}</span>
						<span className="truncate" title={v.name}>
							{v.name}
						</span>
						<Button onClick={() => void compare(new Date(v.at).toLocaleString('en-GB'), () => projectOf(v))}>
							Compare
						</Button>
						<Button
							quiet
							aria-label={`Forget the version of ${new Date(v.at).toLocaleString('en-GB')}`}
							onClick={() => void dropVersion(v.id ?? -1)}
						>
							Forget
						</Button>
					</li>
				))}
			</ul>
			{changes && (
				<section aria-label="Changed answers">
					<h3 className="font-semibold">
						{changes.list.length === 0
							? 'No answer differs'
							: `${changes.list.length} ${changes.list.length === 1 ? 'answer differs' : 'answers differ'}`}{' '}
						from {changes.with}
					</h3>
					<table className="mt-1 w-full table-fixed">
						<colgroup>
							<col className="w-[22%]" />
							<col className="w-[16%]" />
							<col />
							<col className="w-8" />
							<col />
						</colgroup>
						<tbody>
							{changes.list.map((c) => (
								<tr key={`${c.moment} ${c.query}`} className="border-t align-top">
									<td className="pr-3 py-1 font-semibold break-words">
										{nameOf(c.after ? project : changes.before, 'query', c.query)}
									</td>
									<td className="py-1 pr-3 text-quiet">
										{c.moment === null ? 'as laid out' : nameOf(c.after ? project : changes.before, 'moment', c.moment)}
									</td>
									<td className="py-1 pr-3">{c.before ? quickWords(changes.before, c.before) : 'was not there'}</td>
									<td className="py-1 pr-3">→</td>
									<td>{c.after ? quickWords(project, c.after) : 'is gone'}</td>
								</tr>
							))}
						</tbody>
					</table>
				</section>
			)}
		</section>
	);
}
