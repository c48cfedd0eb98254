import { oddsOfWhole } from './exactTempo';

test('a sharp fit on a whole number was set as one', () => {
  expect(oddsOfWhole(128.002, 0.003)).toBeGreaterThan(20);
});

test('a sharp fit beside one was not', () => {
  expect(oddsOfWhole(141.04, 0.004)).toBeLessThan(0.01);
  expect(oddsOfWhole(88.75, 0.02)).toBeLessThan(0.01);
});

test('a blunt fit is drawn to a whole number in its reach, as far as its error allows', () => {
  expect(oddsOfWhole(100.8, 0.2)).toBeGreaterThan(1);
  expect(oddsOfWhole(100.6, 0.1)).toBeLessThan(0.1);
});

test('where nothing is known nothing is decided', () => {
  expect(oddsOfWhole(100.5, 5)).toBeLessThan(1);
});
