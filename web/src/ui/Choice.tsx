import { Select } from 'radix-ui';
import { walkedByKeyboard } from './modality';
import { nonce } from './nonce';

interface Props<Value extends string> {
  label: string;
  value: Value;
  options: readonly (readonly [Value, string])[];
  onChange: (value: Value) => void;
  /** What is shown, if it says more than the option's words. */
  shown?: string;
  testId?: string;
}

/** One of a few, shown as stitched words. */
export function Choice<Value extends string>({ label, value, options, onChange, shown, testId }: Props<Value>) {
  return (
    <Select.Root value={value} onValueChange={(next) => onChange(next as Value)}>
      <Select.Trigger
        aria-label={label}
        data-testid={testId}
        data-value={value}
        className="stitched font-semibold text-ink"
      >
        <Select.Value>{shown ?? options.find(([option]) => option === value)?.[1]}</Select.Value>
      </Select.Trigger>
      <Select.Portal>
        <Select.Content
          position="popper"
          side="top"
          sideOffset={8}
          onCloseAutoFocus={(event) => {
            // After a choice by pointer the keys belong to the tool again.
            if (!walkedByKeyboard()) event.preventDefault();
          }}
          className="z-40 rounded-md border border-rule bg-card p-1 shadow-md"
        >
          <Select.Viewport nonce={nonce}>
            {options.map(([option, words]) => (
              <Select.Item
                key={option}
                value={option}
                className="cursor-pointer rounded px-3 py-1 outline-none data-[highlighted]:bg-rule/50 data-[state=checked]:font-semibold"
              >
                <Select.ItemText>{words}</Select.ItemText>
              </Select.Item>
            ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  );
}
