/** Layers a query chooses from or is stopped by. */
import { useBench } from '../../../model/use-bench';
import { Check } from '../../../ui/controls';
import { MakeHere } from './make';

/** Layers to tick, or all of them. `none` allows the empty choice. */
export function LayersEditor({
	layers,
	none,
	onChange,
}: {
	layers: readonly string[] | 'all' | undefined;
	none?: boolean;
	onChange: (layers: string[] | 'all') => void;
}) {
	const all = useBench((s) => s.project.scene.layers);
	const chosen = layers === 'all' ? all.map((l) => l.id) : (layers ?? []);
	return (
		<fieldset>
			<legend className="sr-only">Layers</legend>
			<Check
				label="All layers"
				checked={layers === 'all'}
				onChange={(on) => onChange(on ? 'all' : none ? [] : all.slice(0, 1).map((l) => l.id))}
			/>
			<hr className="my-1" />
			{all.map((layer) => (
				<Check
					key={layer.id}
					label={layer.name ?? layer.id}
					checked={chosen.includes(layer.id)}
					onChange={(on) => {
						const next = all.map((l) => l.id).filter((id) => (id === layer.id ? on : chosen.includes(id)));
						if (next.length > 0 || none) onChange(next);
					}}
				/>
			))}
			<MakeHere what="layer" choose={(id) => onChange([...chosen.filter((c) => c !== id), id])} />
			{!none && (
				<p className="mt-1 text-[12px] text-quiet">At least one: a query that can choose from no layer is no query.</p>
			)}
		</fieldset>
	);
}
