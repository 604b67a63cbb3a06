import { Fragment } from 'react';

/** The name of a part of a picture with its numbers, each of which stays in one line. */
export function PartName({ name, numbers }: { name: string; numbers: readonly string[] }) {
  return (
    <>
      {name}
      {numbers.map((one) => (
        <Fragment key={one}>
          {' '}
          <span className="mono dim">{one}</span>
        </Fragment>
      ))}
    </>
  );
}
