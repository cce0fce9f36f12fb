/** What is dropped on an open project: a level goes to the page that shows it before it is taken, a trace to the runs. */
import { useNavigate } from 'react-router';
import { bringLevel } from '../../model/incoming';
import { useBenchStore } from '../../model/use-bench';
import { useFilesDropped } from '../../ui/use-files-dropped';

const LEVEL = /\.(glb|gltf|svg)$/i;
const TRACE = /\.(jsonl|ndjson)$/i;

/** Takes files brought to the project, dropped or chosen, to where they are read. */
export function useBrought(): (files: File[]) => void {
	const store = useBenchStore();
	const navigate = useNavigate();
	return (files) => {
		const { key, project, refuse } = store.getState();
		const trace = files.find((f) => TRACE.test(f.name));
		if (files.some((f) => LEVEL.test(f.name))) {
			bringLevel(key, files);
			void navigate(`/p/${key}/level`);
		} else if (trace) {
			import('../../model/trace').then(
				({ traceOf }) => {
					void traceOf(key).openFile(trace, project);
					void navigate(`/p/${key}/time?trace=yes`);
				},
				(error) => refuse(`The trace could not be opened: ${error instanceof Error ? error.message : String(error)}`),
			);
		} else {
			const read = 'A level (.glb, .gltf with its .bin, .svg) or a trace of the game (.jsonl) is read here.';
			const neither = `${files[0]?.name ?? 'This'} is neither; project files are imported on the page of all projects.`;
			refuse(`${read} ${neither}`);
		}
	};
}

export function Dropped() {
	const dropping = useFilesDropped(useBrought());
	if (!dropping) return null;
	return (
		<div className="pointer-events-none fixed inset-4 z-50 grid place-items-center border-2 border-dashed border-ink bg-ground/85 text-[16px] font-semibold">
			Drop a level or a trace of the game
		</div>
	);
}
