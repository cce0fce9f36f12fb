/** Home: the projects in the folders that are served, where they lie. */
import { useEffect } from 'react';
import { Link, useRevalidator } from 'react-router';
import type { Picture as Drawn, KeptDisk } from '../../data/db';
import type { AwayKind, DiskFile } from '../../data/disk';
import { onDiskNews } from '../../data/disk-news';
import { Picture } from './picture';
import type { Drawn as Drawing } from './pictures';

/** The projects in files, or why nothing is known of them; `unwritten`: those whose edits are in this browser only. */
export type DiskListing = { unwritten: readonly KeptDisk[] } & (
	| { at: 'here'; projects: readonly DiskFile[]; readOnly: boolean }
	| { at: AwayKind }
);

/** What of them is drawn: a file that was written since is another version. */
export const drawnOf = (disk: DiskListing): Drawing[] =>
	disk.at === 'here'
		? disk.projects.map(({ key, changed }) => ({ key, version: Math.max(0, Math.round(changed)), damaged: null }))
		: [];

/** After a change on disk others may follow at once: the list is read once for all, milliseconds. */
const TOGETHER = 300;

export function OnDiskSection({ disk, pictures }: { disk: DiskListing; pictures: ReadonlyMap<string, Drawn> }) {
	const { revalidate } = useRevalidator();
	const isHere = disk.at === 'here';
	useEffect(() => {
		if (!isHere) return;
		let timer: ReturnType<typeof setTimeout> | undefined;
		const stop = onDiskNews((news) => {
			if ('hello' in news) return;
			clearTimeout(timer);
			timer = setTimeout(() => void revalidate(), TOGETHER);
		});
		return () => {
			clearTimeout(timer);
			stop();
		};
	}, [isHere, revalidate]);
	const elsewhere = disk.unwritten.filter((kept) => !(isHere && disk.projects.some(({ key }) => key === kept.key)));
	const unwritten = new Set(disk.unwritten.map(({ key }) => key));
	if (!isHere && disk.at !== 'key' && elsewhere.length === 0) return null;
	return (
		<section aria-label="On disk" className="mb-8">
			<h2 className="mb-2 text-[15px] font-semibold">
				On disk{isHere && disk.readOnly && <span className="ml-2 font-normal text-quiet">read-only</span>}
			</h2>
			{disk.at === 'key' && (
				<p className="border-l-2 border-ink bg-panel px-3 py-2">
					This server works on files, and does not know this browser. Open Frelk with the address that the terminal
					shows.
				</p>
			)}
			{isHere && disk.projects.length === 0 && (
				<p className="border border-dashed p-6 text-center text-quiet">
					No file here ends in <span className="figure">.frelk.json</span>. Export a project into the folder, and it
					stands here.
				</p>
			)}
			{isHere && (
				<ul className="grid grid-cols-[repeat(auto-fill,minmax(17rem,1fr))] gap-4">
					{disk.projects.map((file) => (
						<FileCard key={file.key} file={file} picture={pictures.get(file.key)} unwritten={unwritten.has(file.key)} />
					))}
				</ul>
			)}
			{elsewhere.map(({ key, name }) => (
				<p key={key} className="mt-3 border-l-2 border-cut bg-panel px-3 py-2">
					<Link to={`/p/${key}`} className="font-semibold underline decoration-line underline-offset-2">
						{name}
					</Link>{' '}
					has edits that are not in its file, which cannot be reached now. They are kept in this browser.
				</p>
			))}
		</section>
	);
}

function FileCard({ file, picture, unwritten }: { file: DiskFile; picture: Drawn | undefined; unwritten: boolean }) {
	const at = file.name.lastIndexOf('/') + 1;
	const base = file.name.slice(at);
	const { standing, trouble } = picture ?? {};
	return (
		<li className="flex min-w-0 flex-col border bg-panel pb-2">
			<Link to={`/p/${file.key}`} className="block hover:bg-[var(--wash)]">
				<Picture picture={picture} />
				<span className="block truncate px-3 pt-1 font-semibold">{standing?.name ?? base}</span>
			</Link>
			<span className="figure block px-3 break-all text-quiet">{file.name}</span>
			{trouble !== undefined ? (
				<p className="px-3 break-words text-cut">Unreadable: {trouble}</p>
			) : (
				<span className="block px-3">
					{standing === undefined ? (
						<span className="text-quiet">{picture ? 'checks not asked' : 'checking…'}</span>
					) : standing.hold + standing.fail === 0 ? (
						<span className="text-quiet">no checks</span>
					) : (
						<>
							<span className="figure">{standing.hold}</span> hold
							{standing.fail > 0 && (
								<span className="ml-2 font-semibold text-cut">
									<span className="figure">{standing.fail}</span> fail
								</span>
							)}
						</>
					)}
				</span>
			)}
			<span className="block px-3 text-[12px] text-quiet">
				changed {new Date(file.changed).toLocaleString('en-GB')}
			</span>
			{unwritten && <p className="px-3 text-cut">Edits in this browser are not in the file.</p>}
		</li>
	);
}
