import type { OperatingSystem } from '../register/operatingSystems'

/** One profile that goes to a workstation by hand. */
export interface HandRow {
  readonly workstation: string
  readonly serial: string
  /** Letters, digits, hyphens and points, ending in .icc. */
  readonly fileName: string
  /** SHA-256 of the file. */
  readonly hash: string
}

/** First line of what every script prints; see readFoundText. */
export const foundHead = 'bichroma-found 1'

const systems: Readonly<
  Record<OperatingSystem, { readonly name: string; readonly write: (rows: readonly HandRow[]) => string }>
> = {
  windows: { name: 'windows.ps1', write: (rows) => powershell(rows) },
  macos: { name: 'macos.sh', write: (rows) => shell(macos, rows) },
  linux: { name: 'linux.sh', write: (rows) => shell(linux, rows) },
}

/**
 * A script for one system that copies the profiles of its workstation, binds each to its display by the system’s documented
 * means, and prints what is in force. Without rows it only prints. Its rows are data between two marks, never code.
 */
export function handScript(system: OperatingSystem, rows: readonly HandRow[]): { name: string; text: string } {
  const bad = rows.find(
    (r) =>
      /[\t\r\n]/.test(r.workstation + r.serial) ||
      !/^[A-Za-z0-9][A-Za-z0-9.-]*\.icc$/.test(r.fileName) ||
      !/^[0-9a-f]{64}$/.test(r.hash),
  )
  if (bad) throw new RangeError(`The row of ${bad.serial} holds what a script cannot.`)
  const { name, write } = systems[system]
  return { name: `${rows.length ? 'place' : 'look'}-${name}`, text: write(rows) }
}

/** Rows as data: each begins with a word of ours, so that none can end what holds them. */
const table = (rows: readonly HandRow[]) =>
  rows.map((r) => ['row', r.workstation, r.serial, r.fileName, r.hash].join('\t')).join('\n')

interface ShellParts {
  readonly about: string
  /** Defines hash_of, folder, list_displays (serial, handle), bind (handle, file), in_force (handle). */
  readonly functions: string
}

const linux: ShellParts = {
  about: 'For Linux with the colour daemon and its command colormgr.',
  functions: `folder="\${BICHROMA_ROOT:-}\${HOME}/.local/share/icc"
hash_of() { sha256sum "$1" | cut -c1-64; }
# Each display that is plugged in: its serial number, a tab, the daemon's name for it.
list_displays() {
  colormgr get-devices-by-kind display | awk -F': *' '
    /^Object Path/ { path = $2 }
    /^Serial/ { printf "%s\\t%s\\n", $2, path }'
}
bind() {
  colormgr import-profile "$2" >/dev/null 2>&1 || true
  profile=$(colormgr find-profile-by-filename "$2" | awk -F': *' '/^Object Path/ { print $2; exit }')
  colormgr device-add-profile "$1" "$profile" >/dev/null 2>&1 || true
  colormgr device-make-profile-default "$1" "$profile"
}
in_force() { colormgr device-get-default-profile "$1" 2>/dev/null | awk -F': *' '/^Filename/ { print $2; exit }'; }`,
}

const macos: ShellParts = {
  about: 'For macOS, by ColorSync.',
  functions: `folder="\${BICHROMA_ROOT:-}\${HOME}/Library/ColorSync/Profiles"
hash_of() { shasum -a 256 "$1" | cut -c1-64; }
# Each display that is plugged in: its serial number, a tab, the identifier of its ColorSync device.
list_displays() {
  osascript -l JavaScript -e '
    ObjC.import("Foundation"); ObjC.import("CoreGraphics")
    ObjC.bindFunction("CGDisplayCreateUUIDFromDisplayID", ["id", ["unsigned int"]])
    const told = JSON.parse(ObjC.unwrap($.NSString.alloc.initWithDataEncoding((() => {
      const task = $.NSTask.alloc.init, pipe = $.NSPipe.pipe
      task.launchPath = "/usr/sbin/system_profiler"; task.arguments = ["-json", "SPDisplaysDataType"]
      task.standardOutput = pipe; task.launch
      return pipe.fileHandleForReading.readDataToEndOfFile
    })(), $.NSUTF8StringEncoding)))
    told.SPDisplaysDataType.flatMap((card) => card.spdisplays_ndrvs || []).map((d) =>
      [d["spdisplays_display-serial-number"] || d["_spdisplays_display-serial-number"], d._spdisplays_displayID].join("\\t")).join("\\n")'
}
bind() {
  osascript -l JavaScript -e '
    function run([id, file]) {
      ObjC.import("ColorSync"); ObjC.import("CoreGraphics")
      ObjC.bindFunction("CGDisplayCreateUUIDFromDisplayID", ["id", ["unsigned int"]])
      ObjC.bindFunction("ColorSyncDeviceSetCustomProfiles", ["bool", ["id", "id", "id"]])
      const uuid = $.CGDisplayCreateUUIDFromDisplayID(parseInt(id, 16))
      $.ColorSyncDeviceSetCustomProfiles($("mntr"), uuid, $({ "1": $.NSURL.fileURLWithPath(file) }))
    }' "$1" "$2" >/dev/null
}
in_force() {
  osascript -l JavaScript -e '
    function run([id]) {
      ObjC.import("ColorSync"); ObjC.import("CoreGraphics")
      ObjC.bindFunction("ColorSyncProfileCreateWithDisplayID", ["id", ["unsigned int"]])
      ObjC.bindFunction("ColorSyncProfileGetURL", ["id", ["id", "id"]])
      return ObjC.unwrap($.ColorSyncProfileGetURL($.ColorSyncProfileCreateWithDisplayID(parseInt(id, 16)), $()).path)
    }' "$1"
}`,
}

function shell({ about, functions }: ShellParts, rows: readonly HandRow[]): string {
  return `#!/bin/sh
# ${rows.length ? 'Places profiles, binds them to their displays, and prints what is in force.' : 'Prints which profiles are in force here. It changes nothing.'}
# ${about}
# Run it beside the folder “profiles” that came with it; give what it prints to Rollout, “Read back by hand”.
# A profile of ours never takes the place of a file that is not the same.
set -eu
here=$(cd "$(dirname "$0")" && pwd)
host="\${1:-$(hostname -s 2>/dev/null || hostname)}"
${functions}
rows() {
  cat <<'BICHROMA_ROWS'
${table(rows)}
BICHROMA_ROWS
}
displays=$(list_displays)
handle_of() { printf '%s\\n' "$displays" | awk -F'\\t' -v serial="$1" '$1 == serial { print $2; exit }'; }
${
  rows.length
    ? `tab=$(printf '\\t')
rows | while IFS="$tab" read -r word workstation serial file hash; do
  [ "$word" = row ] && [ "$workstation" = "$host" ] || continue
  handle=$(handle_of "$serial")
  if [ -z "$handle" ]; then echo "No display $serial is plugged in here." >&2; continue; fi
  if [ "$(hash_of "$here/profiles/$file")" != "$hash" ]; then echo "$file is not the file that it should be." >&2; continue; fi
  mkdir -p "$folder"
  if [ -e "$folder/$file" ] && [ "$(hash_of "$folder/$file")" != "$hash" ]; then
    echo "$folder/$file is another's file, and it stays." >&2; continue
  fi
  cp "$here/profiles/$file" "$folder/$file.new" && mv "$folder/$file.new" "$folder/$file"
  bind "$handle" "$folder/$file"
done
`
    : ''
}echo '${foundHead}'
printf 'host\\t%s\\n' "$host"
printf '%s\\n' "$displays" | while IFS="$(printf '\\t')" read -r serial handle; do
  [ -n "$serial" ] || continue
  path=$(in_force "$handle" || true)
  if [ -n "$path" ] && [ -f "$path" ]; then hash=$(hash_of "$path"); else hash=-; fi
  printf 'display\\t%s\\t%s\\t%s\\n' "$serial" "\${path:--}" "$hash"
done
echo end
`
}

function powershell(rows: readonly HandRow[]): string {
  return `# ${rows.length ? 'Places profiles, binds them to their displays, and prints what is in force.' : 'Prints which profiles are in force here. It changes nothing.'}
# For Windows, by the functions of mscms.dll.
# Run it beside the folder "profiles" that came with it; give what it prints to Rollout, "Read back by hand".
# A profile of ours never takes the place of a file that is not the same.
param([string]$Workstation = $env:COMPUTERNAME)
$ErrorActionPreference = 'Stop'
$rows = @'
${table(rows)}
'@
Add-Type -Namespace Bichroma -Name Color -MemberDefinition @'
[DllImport("mscms.dll", CharSet = CharSet.Unicode)]
public static extern bool InstallColorProfileW(string machine, string file);
[DllImport("mscms.dll", CharSet = CharSet.Unicode)]
public static extern bool WcsSetUsePerUserProfiles(string device, uint deviceClass, bool usePerUser);
[DllImport("mscms.dll", CharSet = CharSet.Unicode)]
public static extern bool WcsAssociateColorProfileWithDevice(uint scope, string profile, string device);
[DllImport("mscms.dll", CharSet = CharSet.Unicode)]
public static extern bool WcsSetDefaultColorProfile(uint scope, string device, uint type, uint subtype, uint id, string profile);
[DllImport("mscms.dll", CharSet = CharSet.Unicode)]
public static extern bool WcsGetDefaultColorProfile(uint scope, string device, uint type, uint subtype, uint id, uint bytes, System.Text.StringBuilder name);
'@
$monitorClass = 0x6D6E7472
$currentUser = 1
$folder = Join-Path $env:SystemRoot 'System32\\spool\\drivers\\color'
function Get-Displays {
  Get-CimInstance -Namespace root\\wmi -ClassName WmiMonitorID | ForEach-Object {
    $serial = -join ($_.SerialNumberID | Where-Object { $_ -ne 0 } | ForEach-Object { [char]$_ })
    $instance = $_.InstanceName -replace '_\\d+$', ''
    $driver = (Get-ItemProperty -Path "HKLM:\\SYSTEM\\CurrentControlSet\\Enum\\$instance").Driver
    [pscustomobject]@{ Serial = $serial; Device = "\\Registry\\Machine\\System\\CurrentControlSet\\Control\\Class\\$driver" }
  }
}
$displays = @(Get-Displays)
${
  rows.length
    ? `foreach ($line in $rows -split "\\r?\\n") {
  $word, $host_, $serial, $file, $hash = $line -split "\\t"
  if ($word -ne 'row' -or $host_ -ne $Workstation) { continue }
  $display = $displays | Where-Object { $_.Serial -eq $serial } | Select-Object -First 1
  if (-not $display) { Write-Warning "No display $serial is plugged in here."; continue }
  $source = Join-Path (Join-Path $PSScriptRoot 'profiles') $file
  if ((Get-FileHash -Algorithm SHA256 -Path $source).Hash.ToLower() -ne $hash) { Write-Warning "$file is not the file that it should be."; continue }
  $target = Join-Path $folder $file
  if ((Test-Path $target) -and (Get-FileHash -Algorithm SHA256 -Path $target).Hash.ToLower() -ne $hash) { Write-Warning "$target is another's file, and it stays."; continue }
  [void][Bichroma.Color]::InstallColorProfileW($null, $source)
  [void][Bichroma.Color]::WcsSetUsePerUserProfiles($display.Device, $monitorClass, $true)
  [void][Bichroma.Color]::WcsAssociateColorProfileWithDevice($currentUser, $file, $display.Device)
  [void][Bichroma.Color]::WcsSetDefaultColorProfile($currentUser, $display.Device, 0, 0, 0, $file)
}
`
    : ''
}Write-Output '${foundHead}'
Write-Output "host\`t$Workstation"
foreach ($display in $displays) {
  $name = New-Object System.Text.StringBuilder 260
  $path = '-'
  $hash = '-'
  if ([Bichroma.Color]::WcsGetDefaultColorProfile($currentUser, $display.Device, 0, 0, 0, 520, $name)) {
    $path = Join-Path $folder $name.ToString()
    if (Test-Path $path) { $hash = (Get-FileHash -Algorithm SHA256 -Path $path).Hash.ToLower() }
  }
  Write-Output "display\`t$($display.Serial)\`t$path\`t$hash"
}
Write-Output 'end'
`
}
