// swift-tools-version: 5.9
import PackageDescription

let package = Package(
    name: "WardenApp",
    targets: [.executableTarget(name: "WardenApp")]
)
