import { nextMove, shownMoves } from './moves';

const ranked = [3, -2, 0, 5, 7].map((semitones) => ({ semitones, clash: 0, strain: 0 }));

test('the best transposition is tried first, then the next, and after the fourth the best again', () => {
  let now = 0;
  let tried: number | null = null;
  const walked = Array.from({ length: 6 }, () => {
    tried = now = nextMove(ranked, now, tried)!.semitones;
    return now;
  });
  expect(walked).toEqual([3, -2, 0, 5, 3, -2]);
});

test('a lane that was moved otherwise since begins with the best again', () => {
  expect(nextMove(ranked, -1, -2)!.semitones).toBe(3);
});

test('where the best stands already, the next best is tried', () => {
  expect(nextMove(ranked, 3, null)!.semitones).toBe(-2);
});

test('with nothing ranked but what it is, nothing is tried', () => {
  expect(nextMove(ranked.slice(2, 3), 0, null)).toBeNull();
});

test('the best are shown, and behind them the present one where it is none of them', () => {
  const shown = (now: number) => shownMoves({ now, moves: ranked }).map(({ semitones }) => semitones);
  expect(shown(0)).toEqual([3, -2, 0, 5]);
  expect(shown(7)).toEqual([3, -2, 0, 5, 7]);
  expect(shown(12)).toEqual([3, -2, 0, 5]);
});
