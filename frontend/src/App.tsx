import { lazy, Suspense } from 'react'
import { Route, Routes } from 'react-router'
import { Unbroken } from './components/Broken'
import { Loading } from './components/notes'
import { Paints } from './components/Paints'
import { Shell } from './components/Shell'
import { Board } from './features/board/Board'
import { FitCheck } from './features/fit/FitCheck'
import { SessionGate } from './session'

const JointPage = lazy(() => import('./features/joint/JointPage').then((m) => ({ default: m.JointPage })))
const StockPage = lazy(() => import('./features/stock/StockPage').then((m) => ({ default: m.StockPage })))
const ToolsPage = lazy(() => import('./features/tools/ToolsPage').then((m) => ({ default: m.ToolsPage })))
const SheetsPage = lazy(() => import('./features/sheets/SheetsPage').then((m) => ({ default: m.SheetsPage })))
const SheetPage = lazy(() => import('./features/sheets/SheetPage').then((m) => ({ default: m.SheetPage })))
const Register = lazy(() => import('./features/register/Register').then((m) => ({ default: m.Register })))
const Rules = lazy(() => import('./features/rules/Rules').then((m) => ({ default: m.Rules })))
const People = lazy(() => import('./features/people/People').then((m) => ({ default: m.People })))

export function App() {
  return (
    <SessionGate>
      <Paints />
      <Suspense fallback={<Loading what="the page" />}>
        <Unbroken>
          <Routes>
            <Route path="/joints/:ref/:station?" element={<JointPage />} />
            <Route element={<Shell />}>
              <Route index element={<Board />} />
              <Route path="/fit" element={<FitCheck />} />
              <Route path="/stock" element={<StockPage />} />
              <Route path="/sheets" element={<SheetsPage />} />
              <Route path="/sheets/:id" element={<SheetPage />} />
              <Route path="/tools" element={<ToolsPage />} />
              <Route path="/register" element={<Register />} />
              <Route path="/rules" element={<Rules />} />
              <Route path="/people" element={<People />} />
              <Route path="*" element={<p className="p-8 text-lg">There is no page at this address.</p>} />
            </Route>
          </Routes>
        </Unbroken>
      </Suspense>
    </SessionGate>
  )
}
