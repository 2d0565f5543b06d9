import type { Shelf } from '@katharos/contract';
import { formatNumber, type BatchLine, type FirmFigures } from '@katharos/core';
import { Loader, Switch } from '@mantine/core';
import { useState, type ReactElement } from 'react';
import { Link } from 'react-router';
import { useGetFiguresQuery } from '../../data/api.ts';
import { errorWords } from '../../data/errors.ts';
import { selectMay } from '../../data/session.ts';
import { useAppSelector } from '../../data/store.ts';
import { CsvButton, type CsvRows } from '../../ui/Csv.tsx';
import './figures.css';

/** How the firm does: a few figures that say what to do, and how each delivery of elements ages. */
export default function FiguresPage({ shelf }: { readonly shelf: Shelf }): ReactElement {
  const may = useAppSelector((s) => selectMay(s, 'GET /figures'));
  const { data, error } = useGetFiguresQuery(null, { skip: !may, refetchOnMountOrArgChange: true });
  if (!may) return <p role="alert">Only the owner and the office see the firm’s figures.</p>;
  return (
    <>
      <div className="firm-head">
        <h1>How {shelf.rules.firm} does</h1>
      </div>
      {error !== undefined && <p role="alert">{errorWords(error)}</p>}
      {!data && error === undefined && <Loader aria-label="Adding up" />}
      {data && <Figures of={data} />}
    </>
  );
}

const ofHow = (n: number, of: number): string =>
  of === 0 ? 'none' : `${String(n)} of ${String(of)}, ${formatNumber((100 * n) / of, 2)} %`;

function Figures({ of: f }: { readonly of: FirmFigures }): ReactElement {
  const most = Math.max(1, ...f.visitsByWeek);
  return (
    <>
      {f.says.length === 0 ? (
        <p className="headline">Nothing stands out.</p>
      ) : (
        <ol className="figures-says" aria-label="What to do">
          {f.says.map((s) => (
            <li key={s}>{s}</li>
          ))}
        </ol>
      )}
      <table className="quiet-table figures">
        <caption className="visually-hidden">The firm’s figures</caption>
        <tbody>
          <Row label="Systems in care" value={String(f.inCare)} beside={f.takenOut === 0 ? '' : `${String(f.takenOut)} taken out`} />
          <Row label="Houses overdue" value={String(f.overdue)} beside={<Link to="/coming">What is coming</Link>} />
          <Row
            label="Visits a week, the last thirteen"
            value={formatNumber(f.visitsByWeek.reduce((s, n) => s + n, 0) / Math.max(1, f.visitsByWeek.length), 2)}
            beside={
              <span className="figures-weeks" role="img" aria-label={`Visits by week, the oldest first: ${f.visitsByWeek.join(', ')}`}>
                {f.visitsByWeek.map((n, i) => (
                  <i key={i} style={{ height: `${String((100 * n) / most)}%` }} title={String(n)} />
                ))}
              </span>
            }
          />
          <Row label="Visits in a year" value={String(f.visitsYear)} beside={`${String(f.callsYear)} calls`} />
          <Row label="Called again within a month of a visit" value={ofHow(f.callBacksYear, f.visitsYear)} />
          <Row label="Installed within a year and right the first time" value={ofHow(f.rightYear, f.provedYear)} beside="first proof good, no call within its month" />
        </tbody>
      </table>
      <Batches of={f.batches} />
    </>
  );
} // oxfmt-ignore

function Row({ label, value, beside }: { readonly label: string; readonly value: string; readonly beside?: ReactElement | string }): ReactElement {
  return (
    <tr>
      <th scope="row">{label}</th>
      <td>
        <b>{value}</b>
      </td>
      <td>{beside}</td>
    </tr>
  );
} // oxfmt-ignore

const grows = (b: BatchLine): string => (b.saltAYear === null ? '' : `${formatNumber(100 * b.saltAYear, 2)} %`);

function Batches({ of: all }: { readonly of: readonly BatchLine[] }): ReactElement {
  const [single, setSingle] = useState(false);
  const shown = single ? all : all.filter((b) => b.houses > 1 || b.fast);
  const rows = (): CsvRows =>
    all.map((b) => ({ part: b.part, delivery: b.batch, houses: b.houses, changed: b.changed, stoodDays: b.stoodDays ?? '', saltPassageGrowsAYear: b.saltAYear ?? '', agesFast: b.fast ? 'yes' : 'no' }));
  return (
    <section aria-labelledby="batches-title">
      <div className="figures-head">
        <h2 className="zone-title" id="batches-title">
          Elements, by part and delivery
        </h2>
        <Switch label="single ones too" checked={single} onChange={(e) => { setSingle(e.currentTarget.checked); }} />
        <CsvButton name="elements.csv" rows={rows} disabled={all.length === 0} />
      </div>
      <p className="small">
        A delivery is what stands before the last stroke of the serial that was written down as the element went in. How fast it ages is read off the proofs of its time.
      </p>
      {shown.length === 0 ? (
        <p className="empty">No delivery of two or more yet.</p>
      ) : (
        <div className="figures-scroll">
          <table className="quiet-table">
            <thead>
              <tr>
                <th>part</th>
                <th>delivery</th>
                <th className="num">houses</th>
                <th className="num">changed</th>
                <th className="num">stood, days</th>
                <th className="num">salt passage grows a year</th>
                <th>stands in</th>
              </tr>
            </thead>
            <tbody>
              {shown.map((b) => (
                <tr key={`${b.part} ${b.batch}`} data-fast={b.fast}>
                  <td>{b.part}</td>
                  <td>{b.batch === '' ? 'not written down' : b.batch}</td>
                  <td className="num">{b.houses}</td>
                  <td className="num">{b.changed === 0 ? '' : b.changed}</td>
                  <td className="num">{b.stoodDays === null ? '' : Math.round(b.stoodDays)}</td>
                  <td className="num">
                    {grows(b)}
                    {b.fast && <span className="small"> ages fast</span>}
                  </td>
                  <td>
                    {b.fast
                      ? b.standsIn.map((h, i) => (
                          <span key={h.jobId}>
                            {i > 0 && ', '}
                            <Link to={`/jobs/${h.jobId}/prove`}>{h.name}</Link>
                          </span>
                        ))
                      : b.standsIn.length === 0
                        ? 'none'
                        : String(b.standsIn.length)}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
} // oxfmt-ignore
