/** How WebGL draws here: by a graphics card, or by the processor, where smooth edges cost more than all the rest. */

let known: boolean | undefined;

/** The names under which browsers draw without a graphics card. */
const SOFTWARE = /swiftshader|llvmpipe|softpipe|software|basic render/i;

/** @returns whether a drawing of this name, as WebGL tells it, is made by the processor */
export const isSoftware = (renderer: string): boolean => SOFTWARE.test(renderer);

/** @returns whether the processor draws; found out once, by a context that is given back at once */
export function drawnBySoftware(): boolean {
	if (known !== undefined) return known;
	const context = document.createElement('canvas').getContext('webgl2');
	if (!context) return false;
	const info = context.getExtension('WEBGL_debug_renderer_info');
	known = isSoftware(String(context.getParameter(info ? info.UNMASKED_RENDERER_WEBGL : context.RENDERER)));
	context.getExtension('WEBGL_lose_context')?.loseContext();
	return known;
}
