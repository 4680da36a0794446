package cli

import "github.com/spf13/cobra"

func newReview(c *common) *cobra.Command   { return &cobra.Command{Use: "review"} }
func newCoverage(c *common) *cobra.Command { return &cobra.Command{Use: "coverage"} }
func newRules(c *common) *cobra.Command    { return &cobra.Command{Use: "rules"} }
func newDemo(c *common) *cobra.Command     { return &cobra.Command{Use: "demo"} }
