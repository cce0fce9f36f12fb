/** The project against an earlier version of itself, or another one: what was edited, and what is answered otherwise. */
import { formatProblem, type Project, readProject } from '@frelk/core';
import { type AnswerTold, type DifferenceTold, differenceInShort, partsOf } from '@frelk/core/differences';
import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import type { Version } from '../../data/db';
import { committedText } from '../../data/disk';
import { saveText } from '../../data/files';
import { dropVersion, keepVersion, projectOf, versionsOf } from '../../data/history';
import { getProject, isOnDisk, listProjects } from '../../data/projects';
import { useBench } from '../../model/use-bench';
import { Button, Select } from '../../ui/controls';
import { differenceIn, differencePageIn } from '../../workers/client';

const NONE: readonly Version[] = [];
const timeOf = (v: Version): string => new Date(v.at).toLocaleString('en-GB');

/** A project file's text. @throws with every problem in a line of its own */
function projectIn(name: string, text: string): Project {
	const reading = readProject(text);
	if (reading.ok) return reading.project;
	throw new Error([`${name} is no project file:`, ...reading.problems.map(formatProblem)].join('\n'));
}

interface Compared {
	with: string;
	before: Project;
	told: DifferenceTold;
}

export function Compare() {
	const project = useBench((s) => s.project);
	const key = useBench((s) => s.key);
	const input = useRef<HTMLInputElement>(null);
	const job = useRef<ReturnType<typeof differenceIn> | null>(null);
	const versions = useLiveQuery(() => versionsOf(key), [key]) ?? NONE;
	const others = (useLiveQuery(() => listProjects()) ?? []).filter((one) => one.key !== key && one.damaged === null);
	const [compared, setCompared] = useState<Compared | null>(null);
	const [doing, setDoing] = useState<string | null>(null);
	const [trouble, setTrouble] = useState<string[]>([]);
	useEffect(() => () => job.current?.cancel(), []);
	const compare = async (name: string, of: () => Project | Promise<Project>) => {
		job.current?.cancel();
		setDoing('reading');
		setTrouble([]);
		setCompared(null);
		let mine: typeof job.current = null;
		try {
			const before = await of();
			mine = differenceIn(before, project, setDoing);
			job.current = mine;
			setCompared({ with: name, before, told: await mine.done });
			setDoing(null);
		} catch (error) {
			// Another comparison was begun, or this one given up.
			if (mine?.cancelled()) return;
			setDoing(null);
			setTrouble((error instanceof Error ? error.message : String(error)).split('\n'));
		}
	};
	const withProject = async (other: string, name: string) => {
		const opened = await getProject(other);
		return projectIn(name, opened?.text ?? '');
	};
	const committed = async () => {
		const text = await committedText(key);
		if (text === null) throw new Error('The file is in no commit yet, or lies in no repository.');
		return projectIn('The last commit', text);
	};
	return (
		<section className="p-4">
			<div className="mb-3 flex flex-wrap items-center gap-2">
				<Button className="font-semibold" onClick={() => void keepVersion(key, project.name, project)}>
					Keep this version
				</Button>
				{isOnDisk(key) && (
					<Button onClick={() => void compare('the last commit', committed)}>Compare with the last commit</Button>
				)}
				<Button onClick={() => input.current?.click()}>Compare with a file…</Button>
				{others.length > 0 && (
					<Select
						label="Compare with another project"
						value=""
						options={[
							{ value: '', label: 'Compare with another project…' },
							...others.map((one) => ({ value: one.key, label: one.name })),
						]}
						onChange={(other) => {
							const name = others.find((one) => one.key === other)?.name;
							if (name !== undefined) void compare(name, () => withProject(other, name));
						}}
					/>
				)}
				<input
					ref={input}
					type="file"
					accept=".json,application/json"
					className="sr-only"
					tabIndex={-1}
					aria-label="Earlier version to compare with"
					onChange={(event) => {
						const file = event.target.files?.[0];
						if (file) void compare(file.name, async () => projectIn(file.name, await file.text()));
						event.target.value = '';
					}}
				/>
				{doing !== null && (
					<>
						<span role="status">Comparing: {doing}…</span>
						<Button
							onClick={() => {
								job.current?.cancel();
								setDoing(null);
							}}
						>
							Stop
						</Button>
					</>
				)}
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
					No version is kept yet. Keep one before a change; then see here what the change does to the answers.
				</p>
			)}
			<ul className="mb-4">
				{versions.map((v) => (
					<li key={v.id} className="grid grid-cols-[11rem_minmax(0,1fr)_auto_auto] items-center gap-3 border-t py-1">
						<span className="figure">{timeOf(v)}</span>
						<span className="truncate" title={v.name}>
							{v.name}
						</span>
						<Button onClick={() => void compare(`the version of ${timeOf(v)}`, () => projectOf(v))}>Compare</Button>
						<Button
							quiet
							aria-label={`Forget the version of ${timeOf(v)}`}
							onClick={() => void dropVersion(v.id ?? -1)}
						>
							Forget
						</Button>
					</li>
				))}
			</ul>
			{compared && <Difference {...compared} project={project} link={`/p/${key}`} />}
		</section>
	);
}

/** Edits on the left, what they do on the right. */
function Difference({ with: name, before, told, project, link }: Compared & { project: Project; link: string }) {
	const parts = partsOf(told);
	return (
		<section aria-label="What the change does">
			<div className="mb-2 flex flex-wrap items-baseline gap-x-4 gap-y-1 border-b pb-1">
				<h3 className="font-semibold">From {name} to what is here</h3>
				<p>{differenceInShort(told)}</p>
				{told.edits.length > 0 && (
					<Button
						className="ml-auto"
						onClick={() =>
							void differencePageIn(before, project).done.then((page) =>
								saveText(page, `${project.id}.difference.html`, 'text/html'),
							)
						}
					>
						Save as a page
					</Button>
				)}
			</div>
			<div className="grid gap-x-8 gap-y-4 lg:grid-cols-[minmax(16rem,2fr)_3fr]">
				<Lines heading="Edits" lines={told.edits} none="Nothing was edited." />
				<div className="space-y-4">
					<section aria-label="Changed answers">
						<h4 className="font-semibold">Answers</h4>
						{told.answers.length === 0 ? (
							<p className="text-quiet">No answer differs.</p>
						) : (
							<ul>
								{told.answers.map((answer) => (
									<Row key={`${answer.at.query} ${answer.at.moment}`} answer={answer} link={link} />
								))}
							</ul>
						)}
					</section>
					{parts.map(({ heading, lines }) => (
						<Lines key={heading} heading={heading} lines={lines} none="" />
					))}
				</div>
			</div>
		</section>
	);
}

function Lines({ heading, lines, none }: { heading: string; lines: readonly string[]; none: string }) {
	return (
		<section aria-label={heading}>
			<h4 className="font-semibold">{heading}</h4>
			{lines.length === 0 && <p className="text-quiet">{none}</p>}
			<ul>
				{lines.map((line) => (
					<li key={line} className="border-t py-1 [overflow-wrap:anywhere] first:border-0">
						{line}
					</li>
				))}
			</ul>
		</section>
	);
}

function Row({ answer, link }: { answer: AnswerTold; link: string }) {
	const { at, query, moment, before, after, why } = answer;
	const search = new URLSearchParams({ query: at.query, ...(at.moment === null ? {} : { moment: at.moment }) });
	return (
		<li className="border-t py-1.5 first:border-0">
			<p className="flex flex-wrap items-baseline gap-x-2">
				<Link className="font-semibold underline" to={`${link}?${search}`}>
					{query}
				</Link>
				<span className="text-quiet">{moment}</span>
			</p>
			<p className="[overflow-wrap:anywhere]">
				<s className="text-quiet">{before}</s> → {after}
			</p>
			{why !== '' && <p className="text-[12px] text-quiet">{why}</p>}
		</li>
	);
}
