<script lang="ts">
</script>

<h1>Nothing lies here.</h1>
<p>This address leads nowhere. <a href="/">Back to the boathouse</a>.</p>
