/** The filters of the whole project: layers against queries, tags as families, sides and stances, states. */
import { Layers } from './layers';
import { Sides } from './sides';
import { States } from './states';
import { Tags } from './tags';

export function FiltersView() {
	return (
		<main className="min-h-0 overflow-auto">
			<h2 className="sr-only">Filters</h2>
			<Layers />
			<div className="grid grid-cols-[repeat(auto-fit,minmax(24rem,1fr))] items-start gap-x-8 px-4 pb-8">
				<Tags />
				<div>
					<Sides />
					<States of="object" />
					<States of="scene" />
				</div>
			</div>
		</main>
	);
}
