// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import { beforeEach, describe, expect, it } from 'vitest'
import { newBrowser, problem, Site, settled, show } from '../../../testing/site'
import { MakeUpField } from './MakeUpField'

const core = (number: string, called: string, x_mm: number) => ({ number, called, x_mm, y_mm: 0 })
const unit = (number: number, called: string, x_mm: number, spare = false) => ({
  number,
  kind: 'core',
  spare,
  x_mm,
  y_mm: 0,
  od_mm: 2,
  core_mm: 2,
  screens: [],
  cores: [core(String(number), called, x_mm)],
})
const picture = (line: string, spare = false) => ({
  line,
  said: '2 cores of 1 mm²',
  estimated: true,
  differ: false,
  inside_mm: 4,
  screens: ['foil', 'drain', 'braid'],
  units: [unit(1, 'white', -1), unit(2, 'brown', 1, spare)],
  colours: ['white', 'brown'],
})

function Form({ line }: { line: string }) {
  const [now, setNow] = useState(line)
  return (
    <>
      <MakeUpField
        {...{
          label: 'Make-up',
          hint: '12 × 1',
          error: undefined,
          line: now,
          insulation: null,
          thinnest: null,
        }}
        onChange={setNow}
      />
      <output>{now}</output>
    </>
  )
}

beforeEach(newBrowser)

describe('a make-up line', () => {
  it('is read back in words and as a drawing, and says what is estimated', async () => {
    new Site({ 'POST /make-up': { body: picture('2 × 1 mm²') } })
    await show(<Form line="2x1" />)
    expect(await screen.findByRole('img', { name: /Make-up: 2 cores/ })).toBeTruthy()
    expect(screen.getByText(/estimated: the insulation is not measured yet/)).toBeTruthy()
  })

  it('takes what is otherwise of a core, and writes it into the line', async () => {
    const user = userEvent.setup()
    const site = new Site({
      'POST /make-up': ({ body }) => {
        const { line, change } = body as { line: string; change?: { unit: number | null } }
        return { body: change ? picture('2 × 1 mm², core 2 spare', true) : picture(line) }
      },
    })
    await show(<Form line="2 × 1 mm²" />)
    await user.selectOptions(await screen.findByLabelText('One core is otherwise'), '2')
    await user.click(screen.getByRole('button', { name: 'Leave core 2 spare' }))
    await waitFor(() => expect(screen.getByRole('status').textContent).toBe('2 × 1 mm², core 2 spare'))
    expect(site.asked.at(-1)?.path).toBe('/make-up')
    await waitFor(() => expect(site.at('POST', '/make-up')).toHaveLength(3)) // the new line is read
    await settled()
    await user.selectOptions(await screen.findByLabelText('Screen of core 2 alone'), 'foil-drain')
    const changes = () => site.at('POST', '/make-up').map((a) => (a.body as { change?: object }).change)
    const screened = { core: null, called: '', unit: 2, spare: false, screen: 'foil-drain' }
    await waitFor(() => expect(changes()).toContainEqual(screened))
  })

  it('draws each core in its own size, and asks for the thinnest where they differ', async () => {
    const two = picture('1 × 1 mm² + 1 × 2.5 mm²')
    const units = [
      { ...unit(1, 'white', -1), core_mm: 1.2 },
      { ...unit(2, 'brown', 1), core_mm: 2 },
    ]
    new Site({ 'POST /make-up': { body: { ...two, differ: true, units } } })
    await show(<Form line="1 × 1 + 1 × 2.5" />)
    const drawn = await screen.findByRole('img', { name: /Make-up/ })
    const [thin, thick] = [...drawn.querySelectorAll('g circle')].map((c) => Number(c.getAttribute('r')))
    expect((thin ?? 0) / (thick ?? 1)).toBeCloseTo(0.6)
    expect(screen.getByText(/measure the thinnest one too/)).toBeTruthy()
  })

  it('says what cannot be read, and without connection that it waits', async () => {
    const site = new Site({ 'POST /make-up': problem(422, 'cannot be read', '/line') })
    await show(<Form line="twelve" />)
    expect((await screen.findAllByText('cannot be read')).length).toBe(1)
    expect(screen.queryByRole('img')).toBeNull()
    site.answers['POST /make-up'] = 'no connection'
    await userEvent.setup().type(screen.getByLabelText('Make-up'), '!')
    expect(await screen.findByText(/read back once the server can be reached/)).toBeTruthy()
  })
})
