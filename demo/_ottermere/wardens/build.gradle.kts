plugins {
    kotlin("jvm") version "2.1.0"
}

dependencies {
    implementation("io.github.oshai:kotlin-logging-jvm:7.0.0")
}
