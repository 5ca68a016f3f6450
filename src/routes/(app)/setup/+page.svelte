<!-- Leads on to the feed. -->
