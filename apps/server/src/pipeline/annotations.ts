// Findings as annotations of the merge's picture, for any program that reads them. Source: W3C Web Annotation Data Model (2017).
import type { Report } from '@blendrak/contract';

/** A page of annotations. */
export interface AnnotationPage {
  readonly '@context': 'http://www.w3.org/ns/anno.jsonld';
  readonly type: 'AnnotationPage';
  readonly items: readonly object[];
}

/**
 * @param source address or file name of the merge's picture
 * @returns one annotation for each finding: outline as SVG and box as a fragment, the defect as a tag, cause and visibility in words
 */
export function annotationsOf({ findings, merge }: Report, source: string): AnnotationPage {
  return {
    '@context': 'http://www.w3.org/ns/anno.jsonld',
    type: 'AnnotationPage',
    items: findings.map(({ id, defect, region, severity, cause, donor }) => ({
      id: `#${id}`,
      type: 'Annotation',
      motivation: 'assessing',
      body: [
        { type: 'TextualBody', purpose: 'tagging', value: defect },
        {
          type: 'TextualBody',
          purpose: 'describing',
          format: 'text/plain',
          language: 'en',
          value: `${cause} Visibility ${Math.round(severity)} of 100.${donor === null ? '' : ` To be repaired from ${donor}.`}`,
        },
      ],
      target: {
        source,
        selector: [
          {
            type: 'FragmentSelector',
            conformsTo: 'http://www.w3.org/TR/media-frags/',
            value: `xywh=pixel:${region.bbox.map((v) => Math.round(v)).join(',')}`,
          },
          {
            type: 'SvgSelector',
            value: `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${merge.width} ${merge.height}"><polygon points="${region.polygon.map(([x, y]) => `${x},${y}`).join(' ')}"/></svg>`,
          },
        ],
      },
    })),
  };
}
