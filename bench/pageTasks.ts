/** Tasks of the page's main thread and its workers by processor time, so that whatever else runs is left out. */
import type { WebDriver } from 'selenium-webdriver';

interface TraceEvent {
  name: string;
  ph: string;
  pid: number;
  tid: number;
  /** Time on the clock, and processor time of the thread; microseconds. */
  dur?: number;
  tdur?: number;
  args: { name?: string };
}

/** The part of the browser's own protocol connection that is used. */
interface Connection {
  execute(method: string, params: object): Promise<unknown>;
  _wsConnection: { on(event: 'message', f: (text: Buffer) => void): void };
}

export interface Busy {
  /** Of the longest task, script, style, layout and handing over to the graphics together; milliseconds. */
  longest: number;
  sum: number;
  /** Of all workers' tasks together. */
  workers: number;
}

export class PageTasks {
  private events: TraceEvent[] = [];
  private ended: () => void = () => {};

  private constructor(private readonly connection: Connection) {
    connection._wsConnection.on('message', (text) => {
      const { method, params } = JSON.parse(text.toString()) as {
        method?: string;
        params?: { value: TraceEvent[] };
      };
      if (method === 'Tracing.dataCollected') this.events.push(...params!.value);
      if (method === 'Tracing.tracingComplete') this.ended();
    });
  }

  static async of(driver: WebDriver): Promise<PageTasks> {
    return new PageTasks((await driver.createCDPConnection('page')) as unknown as Connection);
  }

  /** Processor time of the page's tasks while something is done. */
  async during(what: () => Promise<unknown>): Promise<Busy> {
    this.events = [];
    const complete = new Promise<void>((resolve) => (this.ended = resolve));
    await this.connection.execute('Tracing.start', {
      transferMode: 'ReportEvents',
      traceConfig: { includedCategories: ['disabled-by-default-devtools.timeline', '__metadata'] },
    });
    await what();
    await this.connection.execute('Tracing.end', {});
    await complete;
    return busy(this.events);
  }
}

function busy(events: TraceEvent[]): Busy {
  const threads = (name: RegExp): Set<string> =>
    new Set(
      events
        .filter((e) => e.name === 'thread_name' && name.test(e.args.name ?? ''))
        .map((e) => `${e.pid}/${e.tid}`),
    );
  const [main, workers] = [threads(/^CrRendererMain$/), threads(/^DedicatedWorker/)];
  const out = { longest: 0, sum: 0, workers: 0 };
  for (const e of events) {
    if (e.name !== 'RunTask' || e.tdur === undefined) continue;
    const thread = `${e.pid}/${e.tid}`;
    if (workers.has(thread)) out.workers += e.tdur / 1000;
    if (!main.has(thread)) continue;
    out.longest = Math.max(out.longest, e.tdur / 1000);
    out.sum += e.tdur / 1000;
  }
  return out;
}
