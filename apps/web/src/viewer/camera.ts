// Where a picture lies on the screen: screen = (picture − origin) × zoom, in CSS px of the pane. Several panes may share one.

export interface PictureSize {
  readonly width: number;
  readonly height: number;
}

export interface PictureRegion extends PictureSize {
  readonly x: number;
  readonly y: number;
}

export interface Place {
  readonly x: number;
  readonly y: number;
}

export interface Camera {
  /** Picture px at the pane's upper left corner. */
  readonly originX: number;
  readonly originY: number;
  /** CSS px per picture px. */
  readonly zoom: number;
  /** Size of the pane, CSS px. */
  readonly width: number;
  readonly height: number;
}

/** Share of the pane that a fitted region takes, so that some of its surroundings are seen. */
const FITTED_SHARE = 0.8;
/** A region travelled to is never shown smaller than this. */
const LEAST_ZOOM = 0.2;

export function toPicture(camera: Camera, at: Place): Place {
  return { x: camera.originX + at.x / camera.zoom, y: camera.originY + at.y / camera.zoom };
}

export function toScreen(camera: Camera, at: Place): Place {
  return { x: (at.x - camera.originX) * camera.zoom, y: (at.y - camera.originY) * camera.zoom };
}

/** Moves the picture by so many CSS px. */
export function panned(camera: Camera, dx: number, dy: number): Camera {
  return { ...camera, originX: camera.originX - dx / camera.zoom, originY: camera.originY - dy / camera.zoom };
}

/** Zooms about a place of the screen, which stays where it is. */
export function zoomed(camera: Camera, factor: number, about: Place): Camera {
  const still = toPicture(camera, about);
  const zoom = camera.zoom * factor;
  return { ...camera, zoom, originX: still.x - about.x / zoom, originY: still.y - about.y / zoom };
}

/** A region in the middle of the pane, at a zoom or so that it is seen whole; a large one is shown smaller than asked for. */
export function showing(camera: Camera, region: PictureRegion, zoom: number | 'fit'): Camera {
  const fitted = Math.min(camera.width / region.width, camera.height / region.height) * FITTED_SHARE;
  const taken = zoom === 'fit' ? fitted : Math.min(zoom, Math.max(fitted, LEAST_ZOOM));
  return {
    ...camera,
    zoom: taken,
    originX: region.x + region.width / 2 - camera.width / taken / 2,
    originY: region.y + region.height / 2 - camera.height / taken / 2,
  };
}

/** Keeps a place inside the pane by so many CSS px, moving the picture no further than that needs. */
export function keepingInSight(camera: Camera, at: Place, marginPx: number): Camera {
  const { x, y } = toScreen(camera, at);
  const into = (v: number, size: number): number =>
    Math.max(0, marginPx - v) - Math.max(0, v - Math.max(marginPx, size - marginPx));
  return panned(camera, into(x, camera.width), into(y, camera.height));
}

/** The part of a picture that is in sight; null when none is. */
export function inSight(camera: Camera, picture: PictureSize): PictureRegion | null {
  const x = Math.max(0, camera.originX);
  const y = Math.max(0, camera.originY);
  const width = Math.min(picture.width, camera.originX + camera.width / camera.zoom) - x;
  const height = Math.min(picture.height, camera.originY + camera.height / camera.zoom) - y;
  return width > 0 && height > 0 ? { x, y, width, height } : null;
}

/** Whether a place lies on the picture. */
export function isOnPicture(picture: PictureSize, { x, y }: Place): boolean {
  return x >= 0 && y >= 0 && x < picture.width && y < picture.height;
}

export function meets(a: PictureRegion, b: PictureRegion): boolean {
  return a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
}

/** The smallest region around two. */
export function union(a: PictureRegion, b: PictureRegion): PictureRegion {
  const x = Math.min(a.x, b.x);
  const y = Math.min(a.y, b.y);
  const width = Math.max(a.x + a.width, b.x + b.width) - x;
  return { x, y, width, height: Math.max(a.y + a.height, b.y + b.height) - y };
}

/** Share of the pane that the picture keeps, however far it is moved. */
const KEPT_SHARE = 0.3;
const MOST_ZOOM = 8;
/** A picture is never shown smaller than so much of what fits. */
const LEAST_OF_FIT = 0.6;

/** The whole picture in the pane. */
export function fitting(camera: Camera, picture: PictureSize): Camera {
  const zoom = Math.min(camera.width / picture.width, camera.height / picture.height);
  return {
    ...camera,
    zoom,
    originX: (picture.width - camera.width / zoom) / 2,
    originY: (picture.height - camera.height / zoom) / 2,
  };
}

/** The camera as near to what is wanted as it may go: the picture does not get lost, and its px do not become walls. */
export function constrained(camera: Camera, picture: PictureSize): Camera {
  const least = LEAST_OF_FIT * fitting(camera, picture).zoom;
  const zoom = Math.min(Math.max(MOST_ZOOM, least), Math.max(least, camera.zoom));
  const middle = { x: camera.width / 2, y: camera.height / 2 };
  const near = zoom === camera.zoom ? camera : zoomed(camera, zoom / camera.zoom, middle);
  const clamp = (origin: number, pane: number, size: number): number => {
    const kept = Math.min(KEPT_SHARE * pane, size);
    return Math.min(size - kept, Math.max(kept - pane, origin));
  };
  return {
    ...near,
    originX: clamp(near.originX, near.width / zoom, picture.width),
    originY: clamp(near.originY, near.height / zoom, picture.height),
  };
}
