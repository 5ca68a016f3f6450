<!-- Leads on; see +page.server.ts. -->
