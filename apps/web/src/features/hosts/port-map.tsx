import { portsOf, rolePlan, type Host, type PortRole } from '@insel/core'
import { useEstate } from '../../estate'
import { colourOf } from '../../lib/palette'
import { useTheme } from '../../lib/theme'

const ROW = 30
const PORT_X = 8
const PORT_WIDTH = 150
const ROLE_X = 380
const ROLE_WIDTH = 170

/** Ports on the left, what they carry on the right, a line for each; a missing cable is a broken line. */
export function PortMap({ host }: { host: Host }) {
  const { estate } = useEstate()
  const theme = useTheme()
  const ports = portsOf(estate, host)
  const roles = rolePlan(estate, host).map(({ role }) => role)
  const height = Math.max(ports.length, roles.length) * ROW + 8
  const yOfPort = (index: number) => 4 + index * ROW + (height - 8 - ports.length * ROW) / 2
  const yOfRole = (index: number) => 4 + index * ROW + (height - 8 - roles.length * ROW) / 2
  const colour = (role: PortRole) => colourOf(theme, roles.indexOf(role))
  const words = ports
    .map((port) => `${port.name} ${port.role ? `carries ${port.role}` : 'carries nothing yet'}, cable ${port.cable}`)
    .join('; ')
  return (
    <svg
      viewBox={`0 0 ${ROLE_X + ROLE_WIDTH + 12} ${height}`}
      className="w-full max-w-[620px] my-2"
      role="img"
      aria-label={`Port map of ${host.name}: ${words}`}
    >
      {ports.map((port, index) => {
        const y = yOfPort(index)
        const to = port.role ? roles.indexOf(port.role) : -1
        const isMissing = port.cable === 'missing'
        return (
          <g key={port.id}>
            {to >= 0 && port.role && (
              <path
                d={`M${PORT_X + PORT_WIDTH} ${y + 12} C ${PORT_X + PORT_WIDTH + 90} ${y + 12}, ${ROLE_X - 90} ${yOfRole(to) + 12}, ${ROLE_X} ${yOfRole(to) + 12}`}
                fill="none"
                stroke={colour(port.role)}
                strokeWidth={port.speedMbps >= 10_000 ? 4 : 2}
                strokeDasharray={isMissing ? '6 5' : undefined}
              />
            )}
            <rect
              x={PORT_X}
              y={y}
              width={PORT_WIDTH}
              height={24}
              rx={3}
              fill="var(--sheet)"
              stroke="var(--rule)"
              strokeDasharray={isMissing ? '4 3' : undefined}
            />
            <rect x={PORT_X + 5} y={y + 6} width={12} height={12} rx={1} fill={isMissing ? 'none' : 'var(--fill)'} stroke="var(--fill)" />
            <text x={PORT_X + 24} y={y + 16.5} fontSize={12} fill="var(--ink)" className="font-mono">
              {port.name.length > 10 ? `${port.name.slice(0, 9)}…` : port.name}
            </text>
            <text x={PORT_X + PORT_WIDTH - 6} y={y + 16.5} fontSize={11} textAnchor="end" fill="var(--soft)">
              {port.medium === 'wireless' ? 'Wi-Fi' : port.speedMbps >= 1000 ? `${port.speedMbps / 1000} G` : `${port.speedMbps} M`}
            </text>
          </g>
        )
      })}
      {roles.map((role, index) => (
        <g key={role}>
          <rect
            x={ROLE_X}
            y={yOfRole(index)}
            width={ROLE_WIDTH}
            height={24}
            rx={3}
            fill="var(--sheet)"
            stroke={colour(role)}
            strokeWidth={1.5}
          />
          <text x={ROLE_X + 10} y={yOfRole(index) + 16.5} fontSize={12} fill="var(--ink)">
            {role}
          </text>
        </g>
      ))}
    </svg>
  )
}
