/** Home: the projects of this browser, the examples, and ways in. */
import type { Project } from '@frelk/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useActionData, useFetcher, useRevalidator } from 'react-router';
import type { Picture as Drawn } from '../../data/db';
import { saveText } from '../../data/files';
import { EXAMPLES, getProject, type Listed } from '../../data/projects';
import { onNews } from '../../data/tabs';
import { Button, Select, TextField } from '../../ui/controls';
import { ThemeSwitch } from '../../ui/theme-switch';
import { useFilesDropped } from '../../ui/use-files-dropped';
import { KeepingNotice } from '../project/keeping-notice';
import { useOffline } from '../staying/offline';
import { type DiskListing, drawnOf, OnDiskSection } from './on-disk';
import { Picture } from './picture';
import { usePictures } from './pictures';
import type { HomeResult } from './result';

export function Home({ rows, died, disk }: { rows: readonly Listed[]; died: readonly string[]; disk: DiskListing }) {
	const fetcher = useFetcher<HomeResult>();
	const input = useRef<HTMLInputElement>(null);
	const send = (fields: Record<string, string>) => fetcher.submit(fields, { method: 'post' });
	const importAll = (files: FileList | File[]) => {
		const form = new FormData();
		form.set('do', 'import');
		for (const file of files) form.append('file', file);
		fetcher.submit(form, { method: 'post', encType: 'multipart/form-data' });
	};
	const dropping = useFilesDropped(importAll);
	const acted = useActionData() as HomeResult | undefined;
	const result = fetcher.data ?? acted;
	const { revalidate } = useRevalidator();
	// Another tab has saved, deleted or made a project.
	useEffect(() => onNews(() => void revalidate()), [revalidate]);
	const drawing = useMemo(() => [...drawnOf(disk), ...rows], [disk, rows]);
	const pictures = usePictures(drawing);
	const [text, setText] = useState('');
	const [order, setOrder] = useState<'changed' | 'name'>('changed');
	const offline = useOffline();
	/** The example one should open first, until it has been changed. */
	const hasFiles = disk.at === 'here' && disk.projects.length > 0;
	const first = rows.find(
		(row) => row.key === FIRST && row.version === 1 && row.damaged === null && rows.length < MANY && !hasFiles,
	);
	const shown = rows
		.filter((row) => row.name.toLowerCase().includes(text.trim().toLowerCase()))
		.sort((a, b) => (order === 'name' ? a.name.localeCompare(b.name, 'en') : 0));
	return (
		<div className="min-h-screen">
			<header className="flex h-10 items-center gap-2 border-b bg-panel px-6">
				<span className="font-semibold">Frelk</span>
				<span className="text-quiet">which object does the game choose, and why that one?</span>
				<span
					role="status"
					className="ml-auto text-[12px] text-quiet"
					title="Frelk opens without its server and without a network"
				>
					{offline ? 'Ready offline' : ''}
				</span>
				<Link to="/guide" className="hover:underline">
					Guide
				</Link>
				<span>
					<ThemeSwitch />
				</span>
			</header>
			<KeepingNotice />
			<main className="mx-auto max-w-6xl px-6 py-6">
				<div className="mb-4 flex items-center gap-2">
					<h1 className="mr-auto text-[20px] font-semibold">Projects</h1>
					<Button onClick={() => send({ do: 'create', kind: 'space', name: 'New scene', begin: 'yes' })}>
						New space scene
					</Button>
					<Button quiet onClick={() => send({ do: 'create', kind: 'space', name: 'New scene' })}>
						Empty space scene
					</Button>
					<Button onClick={() => send({ do: 'create', kind: 'flat', name: 'New flat scene' })}>New flat scene</Button>
					<Button onClick={() => input.current?.click()}>Import files…</Button>
					<input
						ref={input}
						type="file"
						multiple
						accept=".json,application/json,.glb,.gltf,.bin,.svg"
						className="sr-only"
						aria-label="Project files to import"
						tabIndex={-1}
						onChange={(event) => {
							if (event.target.files?.length) importAll(event.target.files);
							event.target.value = '';
						}}
					/>
				</div>
				{fetcher.state !== 'idle' && (
					<p role="status" className="mb-3 text-quiet">
						Working…
					</p>
				)}
				{result?.did === 'import' && (
					<ImportReport
						result={result}
						repair={(project) => send({ do: 'repaired', project: JSON.stringify(project) })}
					/>
				)}
				{result?.did === 'refused' && (
					<p role="alert" className="mb-4 border-l-2 border-cut bg-panel px-3 py-2">
						<strong>Nothing was done:</strong> {result.why}. Delete projects you no longer need, or export them and free
						room on this device.
					</p>
				)}
				{result?.did === 'delete' && (
					<p role="status" className="mb-4 flex items-center gap-3 border-l-2 border-ink bg-panel px-3 py-2">
						<span className="min-w-0 break-words">“{result.name}” is deleted.</span>
						{result.kept && <Button onClick={() => send({ do: 'restore', key: result.key })}>Undo</Button>}
					</p>
				)}
				<OnDiskSection disk={disk} pictures={pictures} />
				{hasFiles && <h2 className="mb-2 text-[15px] font-semibold">In this browser</h2>}
				{rows.length === 0 ? (
					<p className="border border-dashed p-10 text-center text-quiet">
						No project here. Start a new one, open an example below, or drop a project file anywhere on this page.
					</p>
				) : (
					<>
						{first && (
							<section className="mb-5 grid grid-cols-[minmax(0,26rem)_minmax(0,1fr)] items-center gap-6 border bg-panel p-4 max-[760px]:grid-cols-1">
								<Link to={`/p/${first.key}`} tabIndex={-1} aria-hidden="true" className="block border">
									<Picture picture={pictures.get(first.key)} />
								</Link>
								<div>
									<h2 className="text-[17px] font-semibold">Begin with {first.name}</h2>
									<p className="mt-1">
										A small ferry quay. Open it, and read at the right which object the gaze selects and why each other
										is not. Then drag a thing, and see the answers follow.
									</p>
									<p className="mt-3 flex items-center gap-3">
										<Link
											to={`/p/${first.key}`}
											className="rounded-[3px] border-2 border-ink px-3 py-1 font-semibold hover:bg-[var(--wash)]"
										>
											Open it first
										</Link>
										<Link to="/guide" className="hover:underline">
											or read the guide
										</Link>
									</p>
								</div>
							</section>
						)}
						{rows.length >= MANY && (
							<p className="mb-3 flex items-center gap-2">
								<input
									type="search"
									aria-label="Search projects"
									placeholder={`search ${rows.length} projects`}
									className="w-72"
									value={text}
									onChange={(event) => setText(event.target.value)}
								/>
								<Select
									label="Order of projects"
									value={order}
									options={[
										{ value: 'changed', label: 'last changed first' },
										{ value: 'name', label: 'by name' },
									]}
									onChange={setOrder}
								/>
							</p>
						)}
						<ul className="grid grid-cols-[repeat(auto-fill,minmax(17rem,1fr))] gap-4">
							{shown.map((row) => (
								<Card
									key={row.key}
									row={row}
									picture={pictures.get(row.key)}
									died={died.includes(row.key)}
									send={send}
								/>
							))}
						</ul>
						{shown.length === 0 && <p className="text-quiet">No project is called that.</p>}
					</>
				)}
				<h2 className="mt-8 mb-2 font-semibold">Examples</h2>
				<ul className="grid grid-cols-[repeat(auto-fill,minmax(17rem,1fr))] gap-x-4 gap-y-2">
					{EXAMPLES.map((example) => (
						<li key={example.id} className="flex items-start gap-3 border-t py-2">
							<span className="flex-1">
								<span className="font-semibold">{example.name}</span>
								<span className="block text-quiet">{example.about}</span>
							</span>
							<Button
								aria-label={`Open a copy of ${example.name}`}
								onClick={() => send({ do: 'example', id: example.id })}
							>
								Open a copy
							</Button>
						</li>
					))}
				</ul>
			</main>
			{dropping && (
				<div className="pointer-events-none fixed inset-4 grid place-items-center border-2 border-dashed border-ink bg-ground/85 text-[16px] font-semibold">
					Drop project files or a level to import them
				</div>
			)}
		</div>
	);
}

const FIRST = 'harl-quay';
/** From so many projects on they can be searched. */
const MANY = 10;

function ImportReport({
	result,
	repair,
}: {
	result: Extract<HomeResult, { did: 'import' }>;
	repair: (project: Project) => void;
}) {
	return (
		<section aria-label="Import" role="alert" className="mb-5 space-y-3 border-l-2 border-cut bg-panel p-3">
			{result.keys.length > 0 && (
				<p>
					{result.keys.length} {result.keys.length === 1 ? 'project' : 'projects'} imported.
				</p>
			)}
			{result.failures.map((failure) => (
				<div key={failure.file}>
					<p>
						<strong>{failure.file}</strong> was not imported; nothing was changed.{' '}
						{failure.wrong === 1 ? 'One thing is' : `${failure.wrong} things are`} wrong with it:
					</p>
					<ul className="mt-1 max-h-60 space-y-0.5 overflow-auto">
						{failure.lines.map((line) => (
							<li key={line} className="figure break-words">
								{line}
							</li>
						))}
					</ul>
				</div>
			))}
			{result.failures.map(
				(failure) =>
					failure.repair && (
						<div key={failure.file}>
							<p>
								{failure.file} can be imported without what names things that are gone:{' '}
								{failure.repair.removed.join(', ')}.
							</p>
							<Button className="mt-1 font-semibold" onClick={() => failure.repair && repair(failure.repair.project)}>
								Import without {failure.repair.removed.length === 1 ? 'it' : 'them'}
							</Button>
						</div>
					),
			)}
			{result.failures.length > 0 && (
				<p className="text-quiet">Mend the file at the places named, then import it again.</p>
			)}
		</section>
	);
}

async function exportRow(row: Listed): Promise<void> {
	const opened = await getProject(row.key);
	if (opened) saveText(opened.text, `${row.key}.frelk.json`, 'application/json');
}

interface CardProps {
	row: Listed;
	/** Undefined while it is being drawn. */
	picture: Drawn | undefined;
	/** A tab ended while it opened this project. */
	died: boolean;
	send: (fields: Record<string, string>) => void;
}

function Card({ row, picture, died, send }: CardProps) {
	const { objects, queries, kind } = row;
	const trouble =
		row.damaged ?? picture?.trouble ?? (died ? 'the last time it was opened, the tab ended before it was there' : null);
	return (
		<li className="flex min-w-0 flex-col border bg-panel">
			<Link to={`/p/${row.key}`} className="block hover:bg-[var(--wash)]">
				<Picture picture={picture} />
				<span className="sr-only">{row.name}</span>
			</Link>
			{row.damaged === null ? (
				<TextField
					label={`Name of ${row.name}`}
					className="border-transparent! px-3! font-semibold text-ellipsis hover:border-line!"
					value={row.name}
					onCommit={(name) => name.trim() !== '' && send({ do: 'rename', key: row.key, name: name.trim() })}
				/>
			) : (
				<span className="block truncate px-3 font-semibold" title={row.name}>
					{row.name}
				</span>
			)}
			{trouble !== null ? (
				<p className="px-3 break-words text-cut">
					{row.damaged !== null || picture?.trouble ? `Unreadable: ${trouble}` : `Beware: ${trouble}`}
				</p>
			) : (
				<span className="block px-3 text-quiet">
					{kind === undefined || objects === undefined || queries === undefined
						? '\u00a0'
						: `${kind}, ${objects} ${objects === 1 ? 'object' : 'objects'}, ${queries} ${queries === 1 ? 'query' : 'queries'}`}
				</span>
			)}
			<div className="mt-auto flex gap-1 px-1.5 py-1.5">
				<Button quiet aria-label={`Export ${row.name}`} onClick={() => void exportRow(row)}>
					Export
				</Button>
				{trouble === null && (
					<Button quiet aria-label={`Duplicate ${row.name}`} onClick={() => send({ do: 'duplicate', key: row.key })}>
						Duplicate
					</Button>
				)}
				<Button quiet aria-label={`Delete ${row.name}`} onClick={() => send({ do: 'delete', key: row.key })}>
					Delete
				</Button>
			</div>
		</li>
	);
}
