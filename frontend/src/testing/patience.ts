/** How long a test waits for what must come: a loaded machine is no fault of the page. */
import { configure } from '@testing-library/react'

configure({ asyncUtilTimeout: 20_000 })
