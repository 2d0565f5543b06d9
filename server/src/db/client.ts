import pg from 'pg';

/** Questions of which the database keeps the plan, of one server: what is asked in more ways than that is planned each time. */
const MOST = 200;
/** PostgreSQL's code of a plan that is kept and fits its tables no longer: a newer server's start has changed them since. */
export const OUTGROWN = '0A000';

type Told = (error: (Error & { readonly code?: string }) | null, result: pg.QueryResult) => void;

/** Names of questions, by their text: those with values beside it have one text however often they are asked. */
const names = new Map<string, string>();
function nameOf(text: string): string | undefined {
  const known = names.get(text);
  if (known !== undefined || names.size >= MOST) return known;
  const name = `q${String(names.size)}`;
  names.set(text, name);
  return name;
}

/**
 * A connection of Sequelize's.
 *
 * It is listened to from its first moment: one that the database ends while it is still opening says so before anybody else
 * listens, and an error nobody listens to ends the server.
 *
 * A question with values beside it is told to the database once, which keeps how it answers it: planning a round anew took
 * longer than reading it. Where a kept plan no longer fits, all are told anew: outside of a transaction the question is asked
 * again at once, within one by whoever began it (`again`).
 */
export class Client extends pg.Client {
  /** how often all were told anew */
  private anew = 0;

  constructor(config?: string | pg.ClientConfig) {
    super(config);
    this.on('error', () => {
      // whoever waits for it is told by what it waits for
    });
    const ask = this.query.bind(this) as (...asked: unknown[]) => unknown;
    const askKept = (question: unknown, values?: unknown, told?: unknown): unknown => {
      const name = typeof question === 'string' && Array.isArray(values) && typeof told === 'function' ? nameOf(question) : undefined;
      if (name === undefined) return ask(question, values, told);
      const tell = told as Told;
      const asked = this.anew;
      return ask({ name: `${name}.${String(asked)}`, text: question, values }, (error: Parameters<Told>[0], result: pg.QueryResult) => {
        if (error?.code !== OUTGROWN) {
          tell(error, result);
          return;
        }
        if (this.anew === asked) this.anew++;
        if (this.getTransactionStatus() === 'I') askKept(question, values, told);
        else tell(error, result);
      });
    }; // oxfmt-ignore
    this.query = askKept as typeof this.query;
  }
}
