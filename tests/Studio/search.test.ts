import { expect, test } from 'vitest';
import { found } from '../../resources/js/studio/frame/search';

const all = [
  { name: 'Light theme', words: 'Paper colour scheme day' },
  { name: 'Heat map: Illuminance', words: 'light lux' },
  { name: 'Export: stage plot (SVG)', words: 'download document paper' },
  { name: 'Remove the selection', words: 'delete erase' },
  { name: 'Select layer Café' },
  { name: 'Select output Output 7' },
  { name: 'Go to Outputs' },
];
const names = (query: string) => found(query, all).list.map((a) => a.name);

test('actions are found by what people type, the best first', () => {
  expect(names('')).toHaveLength(all.length);
  expect(names('light')).toEqual(['Light theme', 'Heat map: Illuminance']);
  expect(names('theme')).toEqual(['Light theme']);
  expect(names('delete')).toEqual(['Remove the selection']);
  expect(names('EXPORT plot')).toEqual(['Export: stage plot (SVG)']);
  expect(names('cafe')).toEqual(['Select layer Café']);
  expect(names('output')).toEqual(['Select output Output 7', 'Go to Outputs']);
  expect(names('output 7 select')).toEqual(['Select output Output 7']);
  expect(names('umin')).toEqual(['Heat map: Illuminance']);
});

test('where nothing is found, the nearest is offered, and nothing for what is like nothing', () => {
  expect(found('delte', all)).toEqual({ list: [all[3]], near: true });
  expect(found('exprot', all).list.map((a) => a.name)).toContain('Export: stage plot (SVG)');
  expect(found('xqzw', all)).toEqual({ list: [], near: true });
  expect(found('…', all).list).toHaveLength(all.length);
});
