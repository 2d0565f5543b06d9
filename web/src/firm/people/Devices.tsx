import { Button, Table } from '@mantine/core';
import dayjs from 'dayjs';
import { useState, type ReactElement } from 'react';
import { useEndDeviceMutation, useGetDevicesQuery } from '../../data/api.ts';
import { errorWords } from '../../data/errors.ts';

/** Devices somebody is or was signed in on; one that is lost or sold is ended here. */
export function Devices({ days }: { readonly days: number }): ReactElement {
  const { data, error } = useGetDevicesQuery(null, { refetchOnMountOrArgChange: true, pollingInterval: 30_000 });
  const [end, ended] = useEndDeviceMutation();
  const [asked, setAsked] = useState<string | null>(null);
  return (
    <section aria-labelledby="devices-title">
      <h2 className="zone-title" id="devices-title">
        Devices
      </h2>
      <p className="small">
        A device that is ended lets nobody in, and forgets the firm when it is next opened with signal. What it had not
        sent stays on it, apart, until whoever made it signs in there again. One that stays without signal forgets the
        firm after {days} days, as the house rules say.
      </p>
      {(error ?? ended.error) !== undefined && <p role="alert">{errorWords(error ?? ended.error)}</p>}
      <div className="people-table">
        <Table verticalSpacing={6}>
          <Table.Thead>
            <Table.Tr>
              <Table.Th>Device</Table.Th>
              <Table.Th>Signed in</Table.Th>
              <Table.Th>Last seen</Table.Th>
              <Table.Th>Not sent then</Table.Th>
              <Table.Th>
                <span className="visually-hidden">What can be done</span>
              </Table.Th>
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            {data?.map((d) => (
              <Table.Tr key={d.id} data-left={d.ended}>
                <Table.Td>
                  {d.name}
                  {d.thisOne && <span className="small"> (this one)</span>}
                </Table.Td>
                <Table.Td>{d.people.length === 0 ? 'nobody' : d.people.join(', ')}</Table.Td>
                <Table.Td>{dayjs(d.seenAt).format('D MMM, HH:mm')}</Table.Td>
                <Table.Td>{d.waits === 0 ? 'nothing' : d.waits}</Table.Td>
                <Table.Td className="people-acts">
                  {d.ended ? (
                    'ended'
                  ) : asked === d.id ? (
                    <>
                      <Button
                        size="compact-sm"
                        color="red"
                        onClick={() => {
                          setAsked(null);
                          void end(d.id);
                        }}
                      >
                        {d.thisOne ? 'End the one I sit at' : 'End it'}
                      </Button>
                      <Button
                        size="compact-sm"
                        variant="default"
                        onClick={() => {
                          setAsked(null);
                        }}
                      >
                        Leave it
                      </Button>
                    </>
                  ) : (
                    <Button
                      size="compact-sm"
                      variant="subtle"
                      onClick={() => {
                        setAsked(d.id);
                      }}
                    >
                      Lost, sold or not ours
                    </Button>
                  )}
                </Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      </div>
    </section>
  );
}
