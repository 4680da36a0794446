import Foundation
import Logging

/// Sends the wardens' reports. The logging here is as it should be.
final class Postbox {
    private let logger = Logger(label: "example.ottermere.postbox")
    private let line: Line

    init(line: Line) {
        self.line = line
    }

    func send(_ report: Report) async throws {
        logger.debug("sending report", metadata: ["report": "\(report.id)"])
        do {
            try await line.send(report)
            logger.info("report sent", metadata: ["report": "\(report.id)"])
        } catch {
            logger.error("report was not sent: \(error)", metadata: ["report": "\(report.id)"])
            throw error
        }
    }
}
