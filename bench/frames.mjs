// What a player does in a frame, counted in the browser itself.
import { pause } from './stack.mjs';

/** What a frame of a player takes while the show plays: draw calls, triangles, uploads, ms of script, and how many there are a second. */
export async function framesOf(browser, stack, output) {
  const page = await (await browser.newContext({ viewport: { width: 800, height: 400 } })).newPage();
  await page.addInitScript(() => {
    const counted = { draws: 0, triangles: 0, uploads: 0, script: 0, frames: 0 };
    window.counted = counted;
    for (const [name, of] of [['drawArrays', 'draws'], ['texImage2D', 'uploads'], ['bufferData', 'uploads']]) {
      const plain = WebGL2RenderingContext.prototype[name];
      WebGL2RenderingContext.prototype[name] = function (...all) {
        counted[of]++;
        if (name === 'drawArrays') counted.triangles += all[0] === this.TRIANGLES ? all[2] / 3 : all[2] - 2;
        return plain.apply(this, all);
      };
    }
    const frame = window.requestAnimationFrame.bind(window);
    window.requestAnimationFrame = (then) =>
      frame((now) => {
        const began = performance.now();
        then(now);
        counted.script += performance.now() - began;
        counted.frames++;
      });
  });
  await page.goto(`${stack.address}/player/${output}`);
  await page.waitForFunction(() => window.kiteDrawn?.revision > 0 && window.kiteDrawn.lacks.length === 0);
  await stack.ask('/live/command', { action: 'play' });
  await pause(1500);
  const told = await page.evaluate(async () => {
    const before = { ...window.counted };
    await new Promise((done) => setTimeout(done, 4000));
    const { counted } = window;
    const n = counted.frames - before.frames;
    return { ...Object.fromEntries(['draws', 'triangles', 'uploads', 'script'].map((k) => [k, (counted[k] - before[k]) / n])), rate: n / 4 };
  });
  await stack.ask('/live/command', { action: 'hold' });
  await page.context().close();
  return told;
}
