import { describe, expect, test } from '@jest/globals';
import { roomOf, siteFrom, wasteOf, type Known, type Placed, type Waste } from '../index.ts';
import { house, rules, systemOf, usual } from '../testing/fixtures.ts';

const trap = { xMm: 600, yMm: 280, zMm: 150 };
const waste = (known: Known = {}, placed: Placed = { trap }, drainId = 'drain-clamp', r = rules): Waste => {
  const all = { ...house, ...known };
  const [room, site] = [roomOf(all, placed), siteFrom(all, r)];
  if (!room || !site.ok) throw new Error('the house is known');
  const w = wasteOf(systemOf({ ...usual, drainId }), room, site.site, r);
  if (!w) throw new Error('no waste');
  return w;
};
const basin = { xMm: 600, yMm: 280, zMm: 500, body: { widthMm: 400, depthMm: 380, heightMm: 150 } };
const unit = (zMm: number, xMm = 400) => ({ xMm, yMm: 280, zMm });

describe('the waste from the side', () => {
  test('a clamp stands low on the vertical run, above the trap’s nut and below the basin’s', () => {
    const w = waste({ drainRun: 'vertical' }, { trap, basin });
    expect(w.trap).toEqual({ fromMm: 150, toMm: 330 });
    expect(w.waterMm).toBe(150 + 0.6 * 180);
    expect(w.allowed).toEqual({ fromMm: 355, toMm: 475 });
    expect(w.holeMm).toBe(380);
    expect(w.forbidden.map((f) => f.why)).toEqual(['after the trap: sewer gas comes in', 'in the trap: it clogs']);
  });
  test('on a horizontal run its bore comes in from above, inclined', () => {
    const w = waste({ drainRun: 'horizontal' });
    expect(w.holeMm).toBe(360);
    expect(w.words).toContain('inclined upward');
  });
  test('no run before the trap, or one too short for a clamp: another way, and none after the trap', () => {
    for (const w of [
      waste({ drainRun: 'none' }),
      waste({ drainRun: 'vertical' }, { trap, basin: { ...basin, zMm: 420 } }),
    ]) {
      expect(w.allowed).toBeNull();
      expect(w.holeMm).toBeNull();
      expect(w.words).toMatch(/^No place for a clamp here: lower the trap.*stand-pipe or floor drain/);
      expect(w.forbidden[0]?.why).toContain('after the trap');
    }
  });
  test('keeps above where a disposal unit pumps past; where nothing is left, the other basin’s tailpiece', () => {
    const high = waste({ drainRun: 'vertical', disposalUnit: 'yes' }, { trap, basin, disposal: unit(150) });
    expect(high.disposalMm).toBe(330);
    expect(high.allowed).toEqual({ fromMm: 390, toMm: 475 });
    const low = waste({ drainRun: 'vertical', disposalUnit: 'yes' }, { trap, basin, disposal: unit(260) });
    expect(low.allowed).toBeNull();
    expect(low.words).toContain('the other basin’s tailpiece');
  });
  test('on a horizontal run a unit far enough away does no harm', () => {
    const near = waste({ drainRun: 'horizontal', disposalUnit: 'yes' }, { trap, disposal: unit(150, 400) });
    const far = waste({ drainRun: 'horizontal', disposalUnit: 'yes' }, { trap, disposal: unit(150, 120) });
    expect(near.allowed).toBeNull();
    expect(far.holeMm).toBe(360);
  });
  test('spigot and stand-pipe are not drilled; the spigot only where the firm’s rule takes it', () => {
    expect(waste({ drainWay: 'standpipe' }, { trap }, 'drain-standpipe')).toMatchObject({ way: 'standpipe', holeMm: null, forbidden: [] });
    expect(waste({ drainWay: 'spigot' }, { trap }, 'drain-spigot').allowed).toBeNull();
    const taken = waste({ drainWay: 'spigot' }, { trap }, 'drain-spigot', { ...rules, drainSpigot: true });
    expect(taken.allowed?.fromMm).toBe(taken.waterMm);
    expect(taken.holeMm).toBeNull();
  }); // oxfmt-ignore
  test('is drawn only where the trap is placed', () => {
    const room = roomOf(house, {});
    const site = siteFrom(house, rules);
    if (!room || !site.ok) throw new Error('the house is known');
    expect(wasteOf(systemOf(usual), room, site.site, rules)).toBeNull();
  });
});
