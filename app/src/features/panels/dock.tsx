/** What stands beside the view for as long as it is wanted: the roster, or the moments. The stage stays in sight and in reach. */
import { useBench } from '../../model/use-bench';
import { Part } from '../../ui/part';

const DOCKS = {
	roster: { what: 'The roster', load: () => import('./roster') },
	moments: { what: 'The list of moments', load: () => import('../moments/moments') },
};

export function Dock() {
	const dock = useBench((s) => s.dock);
	if (dock === null) return null;
	return (
		<div className="relative z-20 grid w-66 shrink-0 grid-cols-[minmax(0,1fr)] grid-rows-[minmax(0,1fr)] border-r bg-panel max-[980px]:absolute max-[980px]:inset-y-0 max-[980px]:left-0 max-[980px]:shadow-lg">
			<Part takesKeys key={dock} {...DOCKS[dock]} give={{}} />
		</div>
	);
}
