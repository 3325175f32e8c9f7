// IIIF requests: what is asked is what is read, what cannot be served is named.
import { infoDocument, parseTileRequest } from './index';

const parse = (region: string, size: string, file = 'default.jpg', rotation = '0') =>
  parseTileRequest({ region, size, rotation, file }, 1000, 800);

describe('parseTileRequest', () => {
  it.each([
    ['full', 'max', { x: 0, y: 0, width: 1000, height: 800 }, 1000, 800],
    ['square', '100,', { x: 100, y: 0, width: 800, height: 800 }, 100, 100],
    ['512,512,512,512', '244,144', { x: 512, y: 512, width: 488, height: 288 }, 244, 144],
    ['full', '!264,184', { x: 0, y: 0, width: 1000, height: 800 }, 230, 184],
    ['full', '!1600,1600', { x: 0, y: 0, width: 1000, height: 800 }, 1000, 800],
    ['0,0,100,50', '!120,40', { x: 0, y: 0, width: 100, height: 50 }, 80, 40],
    ['0,0,100,50', ',25', { x: 0, y: 0, width: 100, height: 50 }, 50, 25],
  ])('reads %s/%s', (region, size, expected, width, height) => {
    expect(parse(region, size)).toEqual({ region: expected, width, height, format: 'jpg' });
  });

  it.each([
    [
      '1000,0,10,10',
      'max',
      'default.jpg',
      '0',
      'region: full, square or x,y,w,h inside 1000 × 800 px, received 1000,0,10,10.',
    ],
    ['-1,0,10,10', 'max', 'default.jpg', '0', 'region:'],
    ['full', '2000,', 'default.jpg', '0', 'size: max'],
    ['full', 'abc', 'default.jpg', '0', 'received abc'],
    ['full', 'max', 'default.webp', '0', 'quality.format:'],
    ['full', 'max', 'default.jpg', '90', 'rotation: only 0 is served, received 90.'],
  ])('refuses %s/%s/%s', (region, size, file, rotation, message) => {
    expect(() => parse(region, size, file, rotation)).toThrow(message);
  });
});

it('the info document lists tiles for every power of two', () => {
  expect(infoDocument('x', 4000, 3000)).toMatchObject({
    width: 4000,
    tiles: [{ width: 512, scaleFactors: [1, 2, 4, 8] }],
  });
});
