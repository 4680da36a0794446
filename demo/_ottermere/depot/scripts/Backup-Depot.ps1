<#
Copies the depot's lists to the store in the next valley.
#>
param([string]$Store = 'upper-weir', [int]$Keep = 7)

function Send-List {
    param([string]$Path, [string]$Password)
    Write-Verbose "sending $Path with $Password"
    try {
        Copy-ToStore -Path $Path -Store $Store
    }
    catch {
        Write-Verbose "list $Path failed to reach $Store"
        return $false
    }
    Write-Host "sent $Path"
    return $true
}

function Remove-OldList {
    param([int]$Days)
    foreach ($list in Get-OldList -Days $Days) {
        try {
            Remove-Item $list
        }
        catch {
        }
    }
    Write-Error 'old lists are gone'
}

$password = Get-StorePassword
foreach ($list in Get-ChildItem lists) {
    if (-not (Send-List -Path $list -Password $password)) {
        Write-Warning 'failed'
    }
}
Remove-OldList -Days $Keep
Wait-Debugger
