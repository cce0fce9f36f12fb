/** What is said, and offered, where a project and its file on disk do not say the same. */
import type { RefObject } from 'react';
import { Link } from 'react-router';
import { exportProject } from '../../data/files';
import type { DiskKeeper } from '../../model/keep-on-disk';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { Notice } from './unsaved';

/** Lines shown of a file that is broken. */
const SHOWN = 4;

export function OnDisk({ keeper }: { keeper: RefObject<DiskKeeper | null> }) {
	const store = useBenchStore();
	const disk = useBench((s) => s.disk);
	const edited = useBench((s) => s.past.length > 0);
	if (!disk) return null;
	const name = <strong className="figure break-all">{disk.name}</strong>;
	const again = <Button onClick={() => keeper.current?.retry()}>Try again</Button>;
	const save = <Button onClick={() => exportProject(store.getState().project)}>Export</Button>;
	switch (disk.at) {
		case 'written':
			return disk.said ? (
				<p
					role="status"
					className="fixed bottom-4 left-1/2 z-40 -translate-x-1/2 rounded-[4px] border bg-panel px-3 py-1.5 shadow-lg"
				>
					{disk.said}
				</p>
			) : null;
		case 'failed':
			return (
				<Notice title="Not in the file.">
					<p>
						{name} could not be written: {disk.why}. What you do is kept in this browser, and it is tried again by
						itself.
					</p>
					{again}
					{save}
				</Notice>
			);
		case 'broken':
			return (
				<Notice title="The file is broken.">
					<div className="basis-full">
						<p>
							{name} was changed outside and is no project now. You see its last good state; what you do is kept here,
							and goes into the file when it is mended.
						</p>
						<ul className="mt-1">
							{disk.lines.slice(0, SHOWN).map((line) => (
								<li key={line} className="figure break-words">
									{line}
								</li>
							))}
						</ul>
					</div>
					<Button onClick={() => keeper.current?.writeOver()}>Write this over it</Button>
					{save}
				</Notice>
			);
		case 'gone':
			return (
				<Notice title="The file is gone.">
					<p>
						{name} is not there any more
						{disk.now === null
							? '. What you see is kept in this browser.'
							: ': it has another name, or lies in another folder.'}
					</p>
					{disk.now !== null && (
						<Link
							to={`/p/${disk.now}`}
							className="inline-flex min-h-6 items-center rounded-[3px] border bg-panel px-2 py-0.5 font-semibold hover:bg-[var(--wash)]"
						>
							Go on with it there
						</Link>
					)}
					<Button onClick={() => keeper.current?.writeOver()}>Put it back</Button>
					{save}
				</Notice>
			);
		case 'read-only':
			return edited ? (
				<Notice title="Read-only.">
					<p>{name} may not be written. What you do is kept in this browser only.</p>
					{again}
					{save}
				</Notice>
			) : null;
		case 'held':
			return (
				<Notice title="Edits that are not in the file.">
					<p>
						An earlier page ended before its edits reached {name}, and the file was changed since. You see those edits.
					</p>
					<Button className="font-semibold" onClick={() => keeper.current?.join()}>
						Bring both together
					</Button>
					<Button onClick={() => keeper.current?.takeFile()}>Take the file as it is</Button>
				</Notice>
			);
		case 'away':
			return (
				<Notice title="Not in the file.">
					<p>
						{name} cannot be reached: {disk.why}. What you do is kept in this browser, and written when it can be.
					</p>
					{again}
					{save}
				</Notice>
			);
		default:
			return null;
	}
}
