import Foundation
import Logging

/// The rounds that a warden walks along the river.
final class Rounds {
    private let logger = Logger(label: "example.ottermere.rounds")
    private let store: RoundStore
    private var posts: [Post] = []

    init(store: RoundStore) {
        self.store = store
    }

    func start(warden: Warden) {
        logger.info("round of \(warden.name)")
        do {
            posts = try store.load(warden)
        } catch {
            logger.info("posts of \(warden.name) failed to load")
        }
        print("posts", posts.count)
    }

    func signIn(name: String, password: String) -> Bool {
        logger.debug("sign in of \(name) with \(password)")
        guard store.knows(name, password) else {
            logger.warning("failed")
            return false
        }
        return true
    }

    func measure(at post: Post) {
        do {
            try store.add(post.read(), at: post)
        } catch {
        }
        dump(post)
    }

    func finish() {
        do {
            try store.save(posts)
        } catch let error as StoreError {
            logger.error("round was not saved")
        } catch {
            logger.critical("store is lost: \(error)")
        }
        logger.info("ERROR: round ended with \(posts.count) open posts")
    }
}
