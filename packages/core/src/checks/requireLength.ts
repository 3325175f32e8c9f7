// Planes of one picture have as many values as it has px.
import { badParameter } from './badParameter';

/**
 * Refuses planes of another size.
 * @param name of the parameter that is told
 * @throws ParameterError for a plane of another size
 */
export function requireLength(name: string, planes: readonly { readonly length: number }[], length: number): void {
  for (const plane of planes) if (plane.length !== length) throw badParameter(name, `${length} values`, plane.length);
}
