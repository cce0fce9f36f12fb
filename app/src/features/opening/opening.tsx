/** A project on its way onto the page: read, tried out where it is large, and only then opened; and what is offered where it cannot be. */
import { type Project, readProject, writeProject } from '@frelk/core';
import { type Repair, repairProject } from '@frelk/core/editing';
import { type ReactNode, useEffect, useState } from 'react';
import { useSubmit } from 'react-router';
import { writeText } from '../../data/db';
import { mendFile, openFromDisk } from '../../data/disk';
import { onDiskNews } from '../../data/disk-news';
import { saveText, told } from '../../data/files';
import { headOf, isOnDisk, type Opened } from '../../data/projects';
import { TAB } from '../../data/tabs';
import { Button } from '../../ui/controls';
import { Trouble } from '../../ui/trouble';
import { tryOutIn } from '../../workers/client';
import { OpenProject } from '../project/open-project';
import { clearOpening, markOpening } from './marks';

/** Texts up to this long are read by the page itself: they take less than starting a worker does. Characters. */
const SHORT = 300_000;
/** An opening that takes longer can be left, milliseconds. */
const PATIENCE = 5000;
/** What is shown of a text that is no project, characters. */
const SHOWN = 100_000;

type State =
	| { at: 'died' }
	| { at: 'trying'; long: boolean }
	| { at: 'open'; project: Project; version: number }
	| { at: 'unreadable'; lines: string[]; repair: Repair | null };

function read(row: Opened): State {
	markOpening(row.key);
	const reading = readProject(row.text);
	return reading.ok
		? { at: 'open', project: reading.project, version: row.version }
		: { at: 'unreadable', lines: told(reading), repair: repairProject(row.text) };
}

export function Opening({ row, died }: { row: Opened; died: boolean }) {
	const [state, setState] = useState<State>(() =>
		died ? { at: 'died' } : row.text.length <= SHORT ? read(row) : { at: 'trying', long: false },
	);
	const trying = state.at === 'trying';
	useEffect(() => {
		if (!trying) return;
		markOpening(row.key);
		const job = tryOutIn(row.text);
		const timer = setTimeout(() => setState((s) => (s.at === 'trying' ? { at: 'trying', long: true } : s)), PATIENCE);
		job.done.then(
			(wrong) => {
				clearTimeout(timer);
				if (wrong) setState({ at: 'unreadable', lines: told(wrong), repair: repairProject(row.text) });
				else setState({ at: 'open', project: JSON.parse(row.text) as Project, version: row.version });
			},
			(error) => {
				if (!job.cancelled())
					setState({
						at: 'unreadable',
						lines: [`It could not be tried out: ${error instanceof Error ? error.message : String(error)}`],
						repair: null,
					});
			},
		);
		return () => {
			clearTimeout(timer);
			job.cancel();
		};
	}, [trying, row]);
	// Marked from before it is read until it stands: the first drawing of an open project answers all its queries.
	useEffect(() => {
		if (state.at === 'open' || state.at === 'unreadable') clearOpening(row.key);
	}, [state.at, row.key]);
	useEffect(() => () => clearOpening(row.key), [row.key]);

	// A file that is mended outside opens by itself.
	const isBrokenFile = state.at === 'unreadable' && isOnDisk(row.key);
	useEffect(() => {
		if (!isBrokenFile) return;
		return onDiskNews((news) => {
			if (!('hello' in news) && news.key === row.key)
				openFromDisk(row.key).then(
					(opened) => opened && setState(read(opened)),
					() => {
						// It cannot be asked for just now; the next news brings it.
					},
				);
		});
	}, [isBrokenFile, row.key]);

	const mend = async ({ project }: Repair) => {
		if (isOnDisk(row.key)) {
			try {
				const opened = await mendFile(row.key, project);
				if (opened) setState(read(opened));
			} catch (error) {
				setState({ at: 'unreadable', lines: [error instanceof Error ? error.message : String(error)], repair: null });
			}
			return;
		}
		const written = await writeText({
			key: row.key,
			head: headOf(project),
			text: writeProject(project),
			seen: row.version,
			by: TAB,
		});
		if (written.done === 'written') setState({ at: 'open', project, version: written.version });
		else
			setState({
				at: 'unreadable',
				lines: ['It was changed or deleted in another tab meanwhile; reload the page.'],
				repair: null,
			});
	};
	switch (state.at) {
		case 'open':
			return <OpenProject project={state.project} rowKey={row.key} version={state.version} />;
		case 'died':
			return (
				<Trouble
					title={`“${row.name}” was not opened`}
					lines={[
						'The last time it was opened, the tab ended before it was there. It may be too large for this browser.',
					]}
				>
					<Choices row={row}>
						<Button className="font-semibold" onClick={() => setState({ at: 'trying', long: false })}>
							Try again
						</Button>
					</Choices>
				</Trouble>
			);
		case 'trying':
			if (!state.long)
				return (
					<main className="grid h-screen place-items-center text-quiet">
						<p role="status">Opening “{row.name}”…</p>
					</main>
				);
			return (
				<Trouble
					title={`Opening “${row.name}” takes long`}
					lines={[
						`It is ${(row.text.length / 1e6).toFixed(1)} MB and has been read and answered for more than ${PATIENCE / 1000} seconds. It goes on in the background; you can wait, or leave it.`,
					]}
				>
					<Choices row={row} />
				</Trouble>
			);
		case 'unreadable':
			return (
				<Trouble title={`“${row.name}” cannot be opened`} lines={state.lines}>
					<Choices row={row}>
						{state.repair && (
							<Button className="font-semibold" onClick={() => state.repair && void mend(state.repair)}>
								Open it without {state.repair.removed.join(', ')}
							</Button>
						)}
					</Choices>
					<label className="block">
						Its text, as it lies {isOnDisk(row.key) ? 'on disk' : 'in this browser'}
						<textarea
							readOnly
							rows={10}
							className="figure mt-1 block w-full border bg-panel p-2"
							value={row.text.slice(0, SHOWN)}
						/>
					</label>
					{row.text.length > SHOWN && (
						<p className="text-quiet">
							The first {SHOWN} of {row.text.length} characters; the export has all of them.
						</p>
					)}
				</Trouble>
			);
	}
}

/** What can be done with a project that is not open. */
function Choices({ row, children }: { row: Opened; children?: ReactNode }) {
	const submit = useSubmit();
	return (
		<div className="flex flex-wrap gap-2">
			{children}
			<Button onClick={() => saveText(row.text, `${row.key}.frelk.json`, 'application/json')}>Export its text</Button>
			{!isOnDisk(row.key) && (
				<Button onClick={() => void submit({ do: 'delete', key: row.key }, { method: 'post', action: '/?index' })}>
					Delete it
				</Button>
			)}
		</div>
	);
}
