/** What a project leaves as: its file, a level or drawing for other programs, a table, and constants for a game. */
import type { Project } from '@frelk/core';
import { useState } from 'react';
import { useLocation } from 'react-router';
import { exportProject, saveBytes, saveText } from '../../data/files';
import { useBenchStore } from '../../model/use-bench';
import { Button, Popover } from '../../ui/controls';

const LANGUAGES = [
	{ value: 'json', label: 'JSON' },
	{ value: 'cpp', label: 'C++' },
	{ value: 'csharp', label: 'C#' },
	{ value: 'typescript', label: 'TypeScript' },
	{ value: 'python', label: 'Python' },
] as const;

export function ExportMenu() {
	return (
		<Popover label="Export" trigger={<Button className="max-[980px]:px-1!">Export</Button>}>
			<Ways />
		</Popover>
	);
}

function Ways() {
	const store = useBenchStore();
	/** Fetched when it is asked for; what cannot be made says why. */
	const leave = (make: (project: Project) => Promise<void>) => {
		const { project, refuse } = store.getState();
		make(project).catch((error) =>
			refuse(`It could not be written: ${error instanceof Error ? error.message : String(error)}`),
		);
	};
	const { kind } = store.getState().project.scene;
	const { pathname } = useLocation();
	const [copied, setCopied] = useState(false);
	const link = async () => {
		const { copyLink } = await import('../link/copy-link');
		const outcome = await copyLink(store, pathname);
		if ('trouble' in outcome) store.getState().refuse(outcome.trouble);
		else setCopied(true);
	};
	return (
		<div className="flex flex-col items-stretch [&>button]:justify-start">
			<Button quiet title="To what is shown now, with the project in it" onClick={() => void link()}>
				Copy a link
			</Button>
			{copied && (
				<p role="status" className="px-2 pb-1 text-[12px] text-quiet">
					The link is on the clipboard.
				</p>
			)}
			<Button quiet onClick={() => exportProject(store.getState().project)}>
				Project file
			</Button>
			<Button
				quiet
				onClick={() =>
					leave(async (project) => {
						const { writeGlb } = await import('@frelk/interchange/gltf');
						saveBytes(await writeGlb(project), `${project.id}.glb`, 'model/gltf-binary');
					})
				}
			>
				Level, glTF (.glb)
			</Button>
			{kind === 'flat' && (
				<Button
					quiet
					onClick={() =>
						leave(async (project) => {
							const { writeSvg } = await import('@frelk/interchange/svg');
							saveText(writeSvg(project), `${project.id}.svg`, 'image/svg+xml');
						})
					}
				>
					Drawing, SVG
				</Button>
			)}
			<Button
				quiet
				onClick={() =>
					leave(async (project) => {
						const { csvTable } = await import('@frelk/interchange/table');
						saveText(csvTable(project), `${project.id}-objects.csv`, 'text/csv');
					})
				}
			>
				Table of objects, CSV
			</Button>
			<p className="mt-2 border-t px-2 pt-2 text-[12px] text-quiet">Layer bits, masks, query figures, tags:</p>
			{LANGUAGES.map(({ value, label }) => (
				<Button
					key={value}
					quiet
					onClick={() =>
						leave(async (project) => {
							const { constantsIn, constantsOf, ENDINGS } = await import('@frelk/interchange/constants');
							saveText(
								constantsIn(value, constantsOf(project)),
								`${project.id}-constants.${ENDINGS[value]}`,
								'text/plain',
							);
						})
					}
				>
					Constants, {label}
				</Button>
			))}
		</div>
	);
}
