import type { ComponentType } from 'react'
import { Route, Routes } from 'react-router'
import { Unbroken } from './components/Broken'
import { Later } from './components/Later'
import { Paints } from './components/Paints'
import { Shell } from './components/Shell'
import { Board } from './features/board/Board'
import { FitCheck } from './features/fit/FitCheck'
import { SessionGate } from './session'

const JointPage = () => import('./features/joint/JointPage').then((m) => m.JointPage)
const StockPage = () => import('./features/stock/StockPage').then((m) => m.StockPage)
const ToolsPage = () => import('./features/tools/ToolsPage').then((m) => m.ToolsPage)
const SheetsPage = () => import('./features/sheets/SheetsPage').then((m) => m.SheetsPage)
const SheetPage = () => import('./features/sheets/SheetPage').then((m) => m.SheetPage)
const Register = () => import('./features/register/Register').then((m) => m.Register)
const Rules = () => import('./features/rules/Rules').then((m) => m.Rules)
const People = () => import('./features/people/People').then((m) => m.People)

const later = (page: () => Promise<ComponentType<object>>) => <Later of={page} what="the page" with={{}} />

export function App() {
  return (
    <SessionGate>
      <Paints />
      <Unbroken>
        <Routes>
          <Route path="/joints/:ref/:station?" element={later(JointPage)} />
          <Route element={<Shell />}>
            <Route index element={<Board />} />
            <Route path="/fit" element={<FitCheck />} />
            <Route path="/stock" element={later(StockPage)} />
            <Route path="/sheets" element={later(SheetsPage)} />
            <Route path="/sheets/:id" element={later(SheetPage)} />
            <Route path="/tools" element={later(ToolsPage)} />
            <Route path="/register" element={later(Register)} />
            <Route path="/rules" element={later(Rules)} />
            <Route path="/people" element={later(People)} />
            <Route path="*" element={<p className="p-8 text-lg">There is no page at this address.</p>} />
          </Route>
        </Routes>
      </Unbroken>
    </SessionGate>
  )
}
