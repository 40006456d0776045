import { expect, it } from 'vitest'
import { placeSaid } from './place'

it.each([
  ['/ends/B/cores/1/insulation_od_mm', 'End B, core 2, insulation od'],
  ['/trace/ends/C/cable/outer_jacket/width_mm', 'End C, cable, outer jacket, width'],
  ['/stock/sleeves/3/recovered_id_mm', 'Stock, sleeve 4, recovered id'],
  ['/trace/circuit/spiral_extra', 'Circuit, spiral extra'],
  ['/card/rated_voltage_v', 'Card, rated voltage'],
  ['/steps/0/after', 'Step 1, after'],
  ['', ''],
])('%s is %s', (path, said) => expect(placeSaid(path)).toBe(said))
